import { Copy } from '../../../kit/copy';
import { Blank, Sheet } from '../../../kit/layout';
import { Empty, Facts, Margin } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Money } from '../../../kit/text';
import { Catalogue } from './catalogue';
import { Comparison } from './comparison';
import { type Offer } from './offer';

/** Where it is read, for what, and what it pays. */
function OfferFacts({ of }: { of: Offer }) {
  return (
    <Facts
      rows={[
        [
          'Address',
          <span key="a">
            <a className="link" href={of.address} target="_blank" rel="noreferrer">
              {of.address.replace(/^https?:\/\//, '')}
            </a>{' '}
            <Copy text={of.address} /> ·{' '}
            <a
              className="link"
              href={`/api/v1/qr.svg?path=${encodeURIComponent(new URL(of.address).pathname)}`}
              target="_blank"
              rel="noreferrer"
            >
              QR
            </a>
          </span>,
        ],
        ['Products', of.names.join(', ')],
        [
          'Pays now',
          <span key="rate" className="private">
            {of.rate || 'nothing yet'}
          </span>,
        ],
        [
          '100 clicks earn',
          of.epc ? <Money key="m" of={of.epc} /> : <span className="text-ink3">too few sales to say</span>,
        ],
        ['Category', of.category],
        ['Language', of.language],
      ]}
    />
  );
}

/** The page that is shown: what everybody reads, its entry in the catalogue, and how it compares. */
export function Shown({ of, registry }: { of: Offer | null; registry: boolean }) {
  if (!of)
    return (
      <Blank>
        <Empty title="No offer page yet">
          A page presents a product, or several that are nearly the same: what it is, what it pays now and
          what others earn with it.
        </Empty>
      </Blank>
    );
  return (
    <>
      <Sheet tabIndex={0} aria-label={of.headline}>
        <div className="flex items-start justify-between gap-4">
          <h1 className="min-w-0 break-words">{of.headline}</h1>
          <State is={of.live ? 'live' : 'draft'} word={of.live ? 'open' : 'draft'} />
        </div>
        <OfferFacts of={of} />
        <p
          dir="auto"
          className="private max-w-[66ch] font-serif text-[14.5px] leading-[1.55] whitespace-pre-wrap"
        >
          {of.reads}
        </p>
        {of.benefits.length > 0 && (
          <ul className="mt-2 list-disc pl-5">
            {of.benefits.map((b) => (
              <li key={b}>{b}</li>
            ))}
          </ul>
        )}
        <Catalogue of={of} registry={registry} />
      </Sheet>
      <Margin width="w-[360px]">
        <Comparison of={of} />
      </Margin>
    </>
  );
}
