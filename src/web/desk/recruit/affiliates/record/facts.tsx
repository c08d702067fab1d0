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
export function AffiliateFacts({ of }: { of: View }) {
  return (
    <Facts
      rows={[
        [
          'E-mail',
          <>
            <span className="private">{of.email}</span>
            {of.mailFault && <span className="text-madder"> · bounces: {of.mailFault}</span>}
            {!of.newsletters && <span className="text-ink3"> · wants no letters</span>}
          </>,
        ],
        [
          'Sites',
          <span key="sites" className="private">
            {of.sites.join(', ') || '—'}
          </span>,
        ],
        [
          'Address',
          <span key="address" className="private">
            {of.address || '—'}
          </span>,
        ],
        ['Kind', <SortingOf key="kind" of={of} />],
        ['Trusted', <TrustOf key="trust" of={of} />],
        ...(of.policy
          ? [
              [
                'Policy',
                of.policy.at === null ? (
                  <span key="policy" className="text-ochre">
                    has not accepted version {of.policy.number}
                  </span>
                ) : (
                  <>
                    accepted version {of.policy.number} on <Day at={of.policy.at} />
                  </>
                ),
              ] as [string, React.ReactNode],
            ]
          : []),
        ['Sorted', <PlacesOf key="places" id={of.id} name={of.name} />],
        ['Brought in', <ReferralOf key="referral" id={of.id} name={of.name} />],
        [
          'Paid',
          of.timing === 'at-sale' ? 'at sale: at once' : 'after hold: when the refund window has passed',
        ],
        [
          'Payout details',
          of.payout.complete ? (
            <span className="private">
              {of.payout.holder}, {of.payout.iban}
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
export function Head({ of }: { of: View }) {
  return (
    <Headed>
      <div>
        <h1 className="private">{of.name}</h1>
        <div className="text-ink2">
          <Code>{of.handle}</Code> · {countryName(of.country)} ·{' '}
          {of.joinedAt ? (
            <>
              affiliate since <Day at={of.joinedAt} />
            </>
          ) : (
            <>
              applied <Day at={of.createdAt} />
            </>
          )}
        </div>
      </div>
      <State is={of.state} />
    </Headed>
  );
}
