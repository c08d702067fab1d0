import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useParams } from 'react-router';
import type { ReplyOf } from '../../contract/endpoint';
import { readOffer } from '../../contract/recruit/offers';
import { formatMoney } from '../../core/money/amount';
import { asking } from '../kit/asking';
import { Earning } from '../kit/earning';
import { Letter, News, Page } from '../kit/layout';
import { Note, Said } from '../kit/note';
import { Failed, Skeleton } from '../kit/place';

type OfferView = ReplyOf<typeof readOffer>;

/** The public page that presents a product, or several, to affiliates. */
export default function OfferPage() {
  const { slug = '' } = useParams();
  const page = useQuery({
    ...asking(readOffer, { params: { slug } }),
    retry: false,
  });
  const offer = page.data;
  useEffect(() => {
    if (offer) {
      document.title = `${offer.headline} · ${offer.programme}`;
      document.documentElement.lang = offer.language;
    }
    return () => {
      document.documentElement.lang = 'en';
    };
  }, [offer]);
  if (page.isPending) return <Skeleton />;
  if (page.error || !offer)
    return (
      <Letter>
        <Failed fault={page.error} />
        <p className="mt-3 px-5">
          <a className="link-lined" href="/join">
            All that can be promoted
          </a>
        </p>
      </Letter>
    );
  return (
    <Page tabIndex={0} lang={offer.language}>
      <div className="mx-auto w-[min(860px,100%)] px-5 py-8">
        {!offer.live && (
          <Note role="status" className="mb-4">
            Not open yet: only you and your colleagues see this page.
          </Note>
        )}
        <p className="flex items-center gap-3 text-ink2">
          {offer.logo && <img src={offer.logo} alt="" className="max-h-[44px] max-w-[120px]" />}For affiliates
          of {offer.programme}
        </p>
        <h1 className="mt-2 text-[28px]!">{offer.headline}</h1>
        {offer.about && (
          <p
            dir="auto"
            className="mt-2 max-w-[62ch] font-serif text-[16px] leading-relaxed whitespace-pre-wrap"
          >
            {offer.about}
          </p>
        )}
        {offer.benefits.length > 0 && (
          <ul className="mt-3 grid gap-x-6 gap-y-1 sm:grid-cols-2">
            {offer.benefits.map((b) => (
              <li key={b} className="border-l-[3px] border-copper pl-3">
                {b}
              </li>
            ))}
          </ul>
        )}
        {offer.products.length === 0 && (
          <p className="mt-5 text-ink2">Nothing of this can be promoted at present.</p>
        )}
        {offer.products.map((p) => (
          <OfferProduct key={p.code} p={p} />
        ))}
        {offer.notices.length > 0 && (
          <section className="mt-7" aria-label="News">
            <h2>News and notes</h2>
            {offer.notices.map((n) => (
              <News key={n.id}>
                <b className="font-semibold">{n.title}</b>
                <p dir="auto" className="max-w-[62ch] whitespace-pre-wrap text-ink2">
                  {n.body}
                </p>
              </News>
            ))}
          </section>
        )}
        <Said gap={8} faint>
          Questions:{' '}
          <a className="link-lined" href={`mailto:${offer.contact}`}>
            {offer.contact}
          </a>{' '}
          ·{' '}
          <a className="link-lined" href="/policy-for-affiliates">
            Terms
          </a>
        </Said>
      </div>
    </Page>
  );
}

/** One product: what it is, what it costs and what it earns. */
function OfferProduct({ p }: { p: OfferView['products'][number] }) {
  return (
    <section className="mt-6 flex flex-wrap gap-4 border-t border-ink pt-4" aria-label={p.name}>
      <img
        src={p.picture}
        alt=""
        width={132}
        height={132}
        className="size-[132px] border border-rule object-cover"
      />
      <div className="min-w-[240px] flex-1">
        <h2>{p.name}</h2>
        <p className="text-ink2">{p.price}</p>
        <p className="mt-1 max-w-[58ch]">{p.description}</p>
        <p className="mt-2">
          {p.reward ? (
            <span className="font-serif text-[20px]">
              you earn <Earning of={p} />
            </span>
          ) : (
            <span className="text-ink2">Affiliates cannot promote it now.</span>
          )}
          {p.epc && (
            <span className="text-ink2">
              {' '}
              · {formatMoney(p.epc)} from 100 clicks on average, over 90 days
            </span>
          )}
        </p>
        <a
          className="mt-2 inline-block rounded-sm border border-copper bg-copper px-3 py-[5px] font-semibold text-white hover:bg-copper-dark"
          href={`/join/${p.code}`}
        >
          Apply to promote it
        </a>
      </div>
    </section>
  );
}
