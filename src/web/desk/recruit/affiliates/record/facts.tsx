import { countryName } from '../../../../kit/countries';
import { Headed } from '../../../../kit/layout';
import { Facts } from '../../../../kit/place';
import { State } from '../../../../kit/state';
import { Code, Day } from '../../../../kit/text';
import { PlacesOf } from './places';
import { ReferralOf } from './referral';
import { SortingOf, TrustOf } from './sorting';
import { type View } from './view';

/** How it is reached, sorted, paid. */
export function AffiliateFacts({ affiliate }: { affiliate: View }) {
  return (
    <Facts
      rows={[
        [
          'E-mail',
          <>
            <span className="private">{affiliate.email}</span>
            {affiliate.mailFault && <span className="text-madder"> · bounces: {affiliate.mailFault}</span>}
            {!affiliate.newsletters && <span className="text-ink3"> · wants no letters</span>}
          </>,
        ],
        [
          'Sites',
          <span key="sites" className="private">
            {affiliate.sites.join(', ') || '—'}
          </span>,
        ],
        [
          'Address',
          <span key="address" className="private">
            {affiliate.address || '—'}
          </span>,
        ],
        ['Kind', <SortingOf key="kind" affiliate={affiliate} />],
        ['Trusted', <TrustOf key="trust" affiliate={affiliate} />],
        ...(affiliate.policy
          ? [
              [
                'Policy',
                affiliate.policy.at === null ? (
                  <span key="policy" className="text-ochre">
                    has not accepted version {affiliate.policy.number}
                  </span>
                ) : (
                  <>
                    accepted version {affiliate.policy.number} on <Day at={affiliate.policy.at} />
                  </>
                ),
              ] as [string, React.ReactNode],
            ]
          : []),
        ['Sorted', <PlacesOf key="places" id={affiliate.id} name={affiliate.name} />],
        ['Brought in', <ReferralOf key="referral" id={affiliate.id} name={affiliate.name} />],
        [
          'Paid',
          affiliate.timing === 'at-sale'
            ? 'at sale: at once'
            : 'after hold: when the refund window has passed',
        ],
        [
          'Payout details',
          affiliate.payout.complete ? (
            <span className="private">
              {affiliate.payout.holder}, {affiliate.payout.iban}
            </span>
          ) : (
            <span className="text-ochre">not entered yet</span>
          ),
        ],
      ]}
    />
  );
}

/** Name, handle, country, since when, and its state. */
export function Head({ affiliate }: { affiliate: View }) {
  return (
    <Headed>
      <div>
        <h1 className="private">{affiliate.name}</h1>
        <div className="text-ink2">
          <Code>{affiliate.handle}</Code> · {countryName(affiliate.country)} ·{' '}
          {affiliate.joinedAt ? (
            <>
              affiliate since <Day at={affiliate.joinedAt} />
            </>
          ) : (
            <>
              applied <Day at={affiliate.createdAt} />
            </>
          )}
        </div>
      </div>
      <State is={affiliate.state} />
    </Headed>
  );
}
