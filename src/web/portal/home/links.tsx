import { Link } from 'react-router';
import type { PortalHome } from '../../../contract/portal/home';
import { timingWords } from '../../../core/ledger/timing';
import { Copy } from '../../kit/copy';
import { Earning } from '../../kit/earning';
import { Empty } from '../../kit/place';
import { QrLink } from '../../kit/qr-link';
import { Code, Money, Small } from '../../kit/text';
import { usePortalBase } from '../base';

type Own = PortalHome['links'][number];

/** The links to copy, each with what it earns and has earned. */
export function Links({ links }: { links: Own[] }) {
  return (
    <section className="mt-7" aria-labelledby="links">
      <h2 id="links">Your tracking links</h2>
      {links.length === 0 ? (
        <div className="mt-2">
          <Empty title="No link yet">Links appear here the moment you are approved for a product.</Empty>
        </div>
      ) : (
        <table className="mt-1 table">
          <thead className="max-sm:sr-only">
            <tr>
              <th>Product</th>
              <th>You earn</th>
              <th className="figure">30 days</th>
              <th className="figure">From 100 clicks</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {links.map((own) => (
              <LinkLine key={own.code} own={own} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function LinkLine({ own }: { own: Own }) {
  const base = usePortalBase();
  const { product, code, price, timing, link, earned30, per100 } = own;
  return (
    <tr className="align-baseline max-sm:flex max-sm:flex-wrap max-sm:gap-x-3 max-sm:py-2 max-sm:[&>td]:border-0 max-sm:[&>td]:p-0">
      <td className="whitespace-normal! max-sm:w-full">
        <b className="font-semibold">{product}</b> <span className="text-ink3">{price}</span>
        <Small below>
          <span className="break-all">
            <Code>{link.replace(/^https?:\/\/[^/]+/, '…')}</Code>
          </span>
        </Small>
      </td>
      <td className="whitespace-normal! max-sm:w-full">
        <span className="text-ink3 sm:hidden">you earn </span>
        <Earning of={own} />
        <Small below>paid {timingWords[timing]}</Small>
      </td>
      <td className="figure">
        <Money value={earned30} />
        <span className="text-ink3 sm:hidden"> in 30 days</span>
      </td>
      <td className="figure">
        <Money value={per100} />
        <span className="text-ink3 sm:hidden"> from 100 clicks</span>
      </td>
      <td className="text-right max-sm:w-full max-sm:text-left">
        <Copy text={link} /> · <QrLink address={link} /> ·{' '}
        <Link
          className="link"
          to={`${base}/creatives?product=${code}`}
          aria-label={`Creatives for ${product}`}
        >
          creatives
        </Link>
      </td>
    </tr>
  );
}
