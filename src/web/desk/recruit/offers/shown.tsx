import { Copy } from '../../../kit/copy';
import { Blank, Sheet } from '../../../kit/layout';
import { Empty, Facts, Margin } from '../../../kit/place';
import { QrLink } from '../../../kit/qr-link';
import { State } from '../../../kit/state';
import { Money } from '../../../kit/text';
import { Catalogue } from './catalogue';
import { Comparison } from './comparison';
import { type Offer } from './offer';

/** Where it is read, for what, and what it pays. */
function OfferFacts({ offer }: { offer: Offer }) {
  return (
    <Facts
      rows={[
        [
          'Address',
          <span key="a">
            <a className="link" href={offer.address} target="_blank" rel="noreferrer">
              {offer.address.replace(/^https?:\/\//, '')}
            </a>{' '}
            <Copy text={offer.address} /> · <QrLink address={offer.address} />
          </span>,
        ],
        ['Products', offer.names.join(', ')],
        [
          'Pays now',
          <span key="rate" className="private">
            {offer.rate || 'nothing yet'}
          </span>,
        ],
        [
          '100 clicks earn',
          offer.epc ? (
            <Money key="m" value={offer.epc} />
          ) : (
            <span className="text-ink3">too few sales to say</span>
          ),
        ],
        ['Category', offer.category],
        ['Language', offer.language],
      ]}
    />
  );
}

/** The page that is shown: what everybody reads, its entry in the catalogue, and how it compares. */
export function Shown({ offer, registry }: { offer: Offer | null; registry: boolean }) {
  if (!offer)
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
      <Sheet tabIndex={0} aria-label={offer.headline}>
        <div className="flex items-start justify-between gap-4">
          <h1 className="min-w-0 break-words">{offer.headline}</h1>
          <State is={offer.live ? 'live' : 'draft'} word={offer.live ? 'open' : 'draft'} />
        </div>
        <OfferFacts offer={offer} />
        <p
          dir="auto"
          className="private max-w-[66ch] font-serif text-[14.5px] leading-[1.55] whitespace-pre-wrap"
        >
          {offer.reads}
        </p>
        {offer.benefits.length > 0 && (
          <ul className="mt-2 list-disc pl-5">
            {offer.benefits.map((b) => (
              <li key={b}>{b}</li>
            ))}
          </ul>
        )}
        <Catalogue offer={offer} registry={registry} />
      </Sheet>
      <Margin width="w-[360px]">
        <Comparison offer={offer} />
      </Margin>
    </>
  );
}
