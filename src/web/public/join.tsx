import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import type { ReplyOf } from '../../contract/endpoint';
import { readJoinPage } from '../../contract/recruit/applications';
import { asking } from '../kit/asking';
import { Earning } from '../kit/earning';
import { Page, Reading } from '../kit/layout';
import { Note, Said } from '../kit/note';
import { Failed, Skeleton } from '../kit/place';
import { JoinForm } from './join-form';

/** The public page on which affiliates apply. */
export default function JoinPage() {
  const { code = '' } = useParams();
  const by = (useSearchParams()[0].get('by') ?? '').slice(0, 60);
  const page = useQuery({
    ...asking(readJoinPage, { query: { ...(code ? { product: code } : {}), ...(by ? { by } : {}) } }),
  });
  const [said, setSaid] = useState<Outcome | null>(null);
  if (page.isPending) return <Skeleton />;
  if (page.error) return <Failed fault={page.error} retry={() => void page.refetch()} />;
  return <Join page={page.data} code={code} by={by} said={said} onDone={setSaid} />;
}

type Page = ReplyOf<typeof readJoinPage>;
interface Outcome {
  outcome: string;
  said: string;
}

function Join({
  page,
  code,
  by,
  said,
  onDone,
}: {
  page: Page;
  code: string;
  by: string;
  said: Outcome | null;
  onDone: (said: Outcome) => void;
}) {
  const { programme, intro, summary, logo, product, products, contact, cards, policy } = page;
  const { practices, group } = page;
  return (
    <Page>
      <Reading>
        <Head logo={logo} programme={programme} />
        {summary && <Said gap={2}>{summary}</Said>}
        {intro && <p className="mt-2 max-w-[62ch] font-serif text-[15.5px] leading-relaxed">{intro}</p>}
        {page.by && (
          <p role="status" className="mt-4 border-l-[3px] border-slate bg-slate-wash px-3 py-2">
            {page.by} brought you here.
          </p>
        )}
        {code && !product && (
          <Note role="status" className="mt-4">
            No product {code} is open to affiliates at present. You can apply to the whole programme.
          </Note>
        )}
        <OneProduct product={product} />
        <AllProducts product={product} products={products} by={by} />
        {said ? (
          <Received said={said} />
        ) : (
          <JoinForm
            self={page.self}
            product={product?.code ?? ''}
            products={products}
            cards={cards}
            policy={policy}
            practices={practices}
            group={group}
            by={page.by ? by : ''}
            onDone={onDone}
          />
        )}
        <Said gap={8} faint>
          Questions:{' '}
          <a className="link" href={`mailto:${contact}`}>
            {contact}
          </a>{' '}
          · Already an affiliate?{' '}
          <a className="link" href="/portal">
            Sign in to the portal
          </a>
        </Said>
      </Reading>
    </Page>
  );
}

/** What became of the application. */
function Received({ said }: { said: { outcome: string; said: string } }) {
  return (
    <div role="status" className="mt-6 border-l-[3px] border-verdigris bg-verdigris-wash px-4 py-3">
      <p className="font-semibold">
        {said.outcome === 'let-in'
          ? 'Welcome'
          : said.outcome === 'received' || said.outcome === 'added'
            ? 'Thank you'
            : 'We know you'}
      </p>
      <p className="mt-1">{said.said}</p>
    </div>
  );
}

/** What can be promoted, each with what it earns. */
function AllProducts({
  product,
  products,
  by,
}: {
  product: Page['product'];
  products: Page['products'];
  by: string;
}) {
  if (!(!product && products.length > 0)) return null;
  return (
    <table className="sums mt-5">
      <tbody>
        {products.map((x) => (
          <tr key={x.code}>
            <td>
              <a className="link" href={`/join/${x.code}${by ? `?by=${encodeURIComponent(by)}` : ''}`}>
                {x.name}
              </a>
              <span className="text-ink3"> {x.price}</span>
            </td>
            <td>
              you earn <Earning of={x} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The product that the address names. */
function OneProduct({ product }: { product: Page['product'] }) {
  if (!product) return null;
  return (
    <section className="mt-5 border-y border-ink py-3">
      <div className="flex flex-wrap justify-between gap-2">
        <h2>{product.name}</h2>
        <span>
          {product.price} · you earn <Earning of={product} />
        </span>
      </div>
      <p className="mt-1 max-w-[62ch] text-ink2">{product.description}</p>
    </section>
  );
}

/** Whose programme it is. */
function Head({ logo, programme }: { logo: string | null; programme: string }) {
  return (
    <div className="flex items-center gap-4">
      {logo && <img src={logo} alt="" className="max-h-[72px] max-w-[160px]" />}
      <div>
        <p className="text-ink2">Affiliates of</p>
        <h1 className="text-[28px]!">{programme}</h1>
      </div>
    </div>
  );
}
