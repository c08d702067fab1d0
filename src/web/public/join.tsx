import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useParams, useSearchParams } from 'react-router';
import type { ReplyOf } from '../../contract/endpoint';
import { join, readJoinPage } from '../../contract/recruit/applications';
import { call } from '../kit/api';
import { Button } from '../kit/button';
import { Field, FormFault, placeFaults } from '../kit/form';
import { Note } from '../kit/note';
import { Failed, Skeleton } from '../kit/place';
import { useSend } from '../kit/send';

interface Values {
  name: string;
  email: string;
  country: string;
  address: string;
  sites: string;
  channels: string;
  note: string;
  product: string;
  card: string;
}
const p = join.body.properties;

/** The public page on which affiliates apply. */
export default function JoinPage() {
  const { code = '' } = useParams();
  const by = (useSearchParams()[0].get('by') ?? '').slice(0, 60);
  const page = useQuery({
    queryKey: ['join', code, by],
    queryFn: () =>
      call(readJoinPage, { query: { ...(code ? { product: code } : {}), ...(by ? { by } : {}) } }),
  });
  const [said, setSaid] = useState<{ outcome: string; said: string } | null>(null);
  if (page.isPending) return <Skeleton />;
  if (page.error) return <Failed fault={page.error} retry={() => void page.refetch()} />;
  const { programme, intro, summary, logo, product, products, contact, cards, policy } = page.data;
  return (
    <main className="h-full overflow-auto">
      <div className="mx-auto w-[min(760px,100%)] px-5 py-8">
        <div className="flex items-center gap-4">
          {logo && <img src={logo} alt="" className="max-h-[72px] max-w-[160px]" />}
          <div>
            <p className="text-ink2">Affiliates of</p>
            <h1 className="text-[28px]!">{programme}</h1>
          </div>
        </div>
        {summary && <p className="mt-2 text-ink2">{summary}</p>}
        {intro && <p className="mt-2 max-w-[62ch] font-serif text-[15.5px] leading-relaxed">{intro}</p>}
        {page.data.by && (
          <p role="status" className="mt-4 border-l-[3px] border-slate bg-slate-wash px-3 py-2">
            {page.data.by} brought you here.
          </p>
        )}
        {code && !product && (
          <Note role="status" className="mt-4">
            No product {code} is open to affiliates at present. You can apply to the whole programme.
          </Note>
        )}
        {product && (
          <section className="mt-5 border-y border-ink py-3">
            <div className="flex flex-wrap justify-between gap-2">
              <h2>{product.name}</h2>
              <span>
                {product.price} · you earn <b>{product.reward}</b>
              </span>
            </div>
            <p className="mt-1 max-w-[62ch] text-ink2">{product.description}</p>
          </section>
        )}
        {!product && products.length > 0 && (
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
                    you earn <b>{x.reward}</b>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {said ? (
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
        ) : (
          <JoinForm
            self={page.data.self}
            product={product?.code ?? ''}
            products={products}
            cards={cards}
            policy={policy}
            by={page.data.by ? by : ''}
            onDone={setSaid}
          />
        )}
        <p className="mt-8 text-ink3">
          Questions:{' '}
          <a className="link" href={`mailto:${contact}`}>
            {contact}
          </a>{' '}
          · Already an affiliate?{' '}
          <a className="link" href="/portal">
            Sign in to the portal
          </a>
        </p>
      </div>
    </main>
  );
}

type Self = ReplyOf<typeof readJoinPage>['self'];

function JoinForm({
  self,
  product,
  products,
  cards,
  policy,
  by,
  onDone,
}: {
  self: Self;
  product: string;
  policy: number | null;
  by: string;
  products: { code: string; name: string }[];
  cards: { id: string; name: string; about: string }[];
  onDone: (said: { outcome: string; said: string }) => void;
}) {
  const [fault, setFault] = useState<string | null>(null);
  const send = useSend(join);
  const [accepted, setAccepted] = useState(false);
  const [unaccepted, setUnaccepted] = useState(false);
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<Values>({
    defaultValues: {
      name: self?.name ?? '',
      email: self?.email ?? '',
      country: self?.country ?? '',
      address: self?.address ?? '',
      sites: self?.sites.join(', ') ?? '',
      channels: self?.channels ?? '',
      note: '',
      product,
      card: '',
    },
  });
  const input = { register, errors };
  return (
    <form
      noValidate
      className="mt-6 grid grid-cols-1 gap-x-5 gap-y-4 border border-rule bg-sheet p-5 sm:grid-cols-2"
      onSubmit={(e) =>
        void handleSubmit(async (v) => {
          setFault(null);
          if (policy !== null && !accepted) {
            setUnaccepted(true);
            return;
          }
          try {
            onDone(
              await send({
                body: {
                  ...v,
                  card: v.card || undefined,
                  ...(policy === null ? {} : { policy: accepted }),
                  ...(by ? { by } : {}),
                  email: v.email.trim(),
                  country: v.country.trim().toUpperCase(),
                  sites: v.sites.split(/[\s,]+/).filter(Boolean),
                },
              }),
            );
          } catch (thrown) {
            setFault(placeFaults(thrown, setError, Object.keys(p)));
          }
        })(e)
      }
    >
      <h2 className="sm:col-span-2">Apply</h2>
      {self && (
        <p className="text-ink2 sm:col-span-2">
          You are signed in as <b className="private">{self.name}</b>: what we know of you is filled in, and
          the answer comes at once.
        </p>
      )}
      <div className="sm:col-span-2">
        <FormFault>{fault}</FormFault>
      </div>
      <Field
        name="name"
        schema={p.name}
        {...input}
        hint="You, or what your readers know you as"
        autoComplete="name"
      />
      <Field
        name="email"
        kind="email"
        schema={p.email}
        {...input}
        hint="The answer comes here"
        autoComplete="email"
      />
      <Field name="country" schema={p.country} {...input} hint="Two letters" autoComplete="country" />
      <Field name="address" schema={p.address} {...input} autoComplete="street-address" />
      <Field
        name="sites"
        schema={{ title: 'Your sites', examples: ['loamletters.example, blog.loamletters.example'] }}
        {...input}
        hint="Several: with commas between"
      />
      <Field name="channels" schema={p.channels} {...input} />
      <div className="sm:col-span-2">
        <Field
          name="note"
          kind="area"
          schema={p.note}
          {...input}
          hint="What would you do, for whom, and when? It helps more than numbers."
        />
      </div>
      <Field
        name="product"
        kind="select"
        schema={p.product}
        label="For"
        options={[['', 'the whole programme'], ...products.map((x) => [x.code, x.name] as const)]}
        {...input}
      />
      {cards.length > 0 && (
        <Field
          name="card"
          kind="select"
          schema={p.card}
          options={[
            ['', 'as everybody'],
            ...cards.map((c) => [c.id, c.about ? `${c.name}: ${c.about}` : c.name] as const),
          ]}
          {...input}
          hint="What you are paid by"
        />
      )}
      {policy !== null && (
        <div className="sm:col-span-2">
          <label className="flex items-start gap-2">
            <input
              type="checkbox"
              className="mt-1 accent-copper"
              checked={accepted}
              aria-invalid={unaccepted || undefined}
              onChange={(e) => {
                setAccepted(e.target.checked);
                setUnaccepted(false);
              }}
            />{' '}
            <span>
              I accept the{' '}
              <a className="link underline" href="/policy-for-affiliates" target="_blank" rel="noreferrer">
                terms for affiliates
              </a>
              , version {policy}
            </span>
          </label>
          {unaccepted && (
            <p role="alert" className="text-madder">
              The terms have to be accepted to take part.
            </p>
          )}
        </div>
      )}
      <div className="flex items-end justify-end">
        <Button type="submit" look="main" busy={isSubmitting}>
          Apply
        </Button>
      </div>
    </form>
  );
}
