import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { listOffers } from '../../../../contract/recruit/offers';
import { asking } from '../../../kit/asking';
import { DottedItem } from '../../../kit/dotted';
import { Pick } from '../../../kit/pick';
import { Heading } from '../../../kit/place';
import { findAffiliates } from '../../shared/find-affiliates';

/** Everything as affiliates see it: in general, and as one of them. */
export default function SeeAs() {
  const navigate = useNavigate();
  const offers = useQuery(asking(listOffers));
  const pages = [
    ['/join', 'The join page'],
    ['/policy-for-affiliates', 'The terms'],
    ...(offers.data?.rows ?? []).map((o) => [
      new URL(o.address).pathname,
      `Offer page: ${o.headline}${o.live ? '' : ' (not open yet)'}`,
    ]),
  ] as [string, string][];
  return (
    <section className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0} aria-label="As affiliates see it">
      <Heading title="As affiliates see it">Reading only: nothing can be changed from here.</Heading>
      <div className="px-5">
        <h2>As one of them</h2>
        <p className="mt-1">
          The portal of{' '}
          <Pick label="Affiliate" find={findAffiliates} onPick={(a) => void navigate(`/as/${a.id}`)}>
            somebody you choose
          </Pick>
          , with its links, earnings and terms.
        </p>
        <h2 className="mt-5">In general</h2>
        <ul className="mt-1">
          {pages.map(([to, name]) => (
            <DottedItem key={to}>
              <a className="link" href={to} target="_blank" rel="noreferrer">
                {name}
              </a>
            </DottedItem>
          ))}
        </ul>
      </div>
    </section>
  );
}
