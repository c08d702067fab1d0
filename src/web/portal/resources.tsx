import { useQuery } from '@tanstack/react-query';
import { readResources } from '../../contract/recruit/offers';
import { asking } from '../kit/asking';
import { Copy } from '../kit/copy';
import { News } from '../kit/layout';
import { Empty, Failed, Skeleton } from '../kit/place';
import { Code, Day } from '../kit/text';

/** What an affiliate works with: news and notes, and the offer pages with its own links. */
export function Resources() {
  const query = useQuery(asking(readResources));
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const { notices, offers } = query.data;
  return (
    <>
      <h1>Resources</h1>
      {offers.length === 0 && notices.length === 0 && (
        <div className="mt-3">
          <Empty title="Nothing here yet">News, notes and pages to link to appear here.</Empty>
        </div>
      )}
      {offers.map((o) => (
        <section key={o.address} className="mt-5" aria-label={o.headline}>
          <h2>{o.headline}</h2>
          <p className="break-all">
            <a className="link-lined" href={o.address}>
              {o.address.replace(/^https?:\/\//, '')}
            </a>
          </p>
          <ul className="mt-1">
            {o.products.map((p) => (
              <li
                key={p.name}
                className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule2 py-2"
              >
                <img
                  src={p.picture}
                  alt=""
                  width={44}
                  height={44}
                  className="border border-rule"
                  loading="lazy"
                />
                <span className="min-w-[180px] flex-1">
                  <b className="font-semibold">{p.name}</b>
                  <br />
                  <span className="text-ink2">
                    you earn <b className="text-ink">{p.reward}</b>
                  </span>
                </span>
                {p.link ? (
                  <span className="break-all">
                    <Code>{p.link}</Code> <Copy text={p.link} />
                  </span>
                ) : (
                  <span className="text-ink3">apply for it to get a link</span>
                )}
              </li>
            ))}
          </ul>
        </section>
      ))}
      {notices.length > 0 && (
        <section className="mt-6" aria-label="News and notes">
          <h2>News and notes</h2>
          {notices.map((n) => (
            <News key={n.id}>
              <p>
                <b className="font-semibold">{n.title}</b>{' '}
                <span className="text-ink3">
                  <Day at={n.at} />
                  {n.product && <> · {n.product.name}</>}
                </span>
              </p>
              <p dir="auto" className="max-w-[66ch] whitespace-pre-wrap">
                {n.body}
              </p>
            </News>
          ))}
        </section>
      )}
    </>
  );
}
