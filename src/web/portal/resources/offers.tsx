import { Copy } from '../../kit/copy';
import type { Resources } from './shown';

/** The merchant's pages on what it sells, to read and to link to. */
export function Offers({ offers }: { offers: Resources['offers'] }) {
  if (offers.length === 0) return null;
  return (
    <section className="mt-6" aria-label="Offer pages">
      <h2>Offer pages</h2>
      <ul className="mt-1">
        {offers.map((o) => (
          <li key={o.address} className="border-b border-rule2 py-2">
            <b className="font-semibold">{o.headline}</b>{' '}
            <span className="text-ink3">{o.products.map((p) => p.name).join(', ')}</span>
            <br />
            <a className="link-lined break-all" href={o.address}>
              {o.address.replace(/^https?:\/\//, '')}
            </a>{' '}
            <Copy text={o.address} />
          </li>
        ))}
      </ul>
    </section>
  );
}
