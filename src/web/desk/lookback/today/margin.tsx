import { Link } from 'react-router';
import { type TodayOut } from '../../../../contract/lookback/today';
import { sumOf } from '../../../../core/money/amount';
import { Margin } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Money, Sums } from '../../../kit/text';

/** Two windows of the same days: not yet payable hatched, payable solid. */
function OwedBar({ today }: { today: TodayOut }) {
  const { held, cleared, inRun } = today.owed;
  const total = sumOf([held, cleared, inRun]).amount;
  if (total <= 0) return null;
  const share = (held.amount / total) * 100;
  return (
    <div className="mt-3 mb-1 text-[11px] text-ink3">
      <div
        className="flex h-[21px] border border-ink"
        role="img"
        aria-label={`${Math.round(share)} % of what is owed is not yet payable`}
      >
        <div className="ground-hatched" style={{ width: `${share}%` }} />
        <div className="ground-solid flex-1" />
      </div>
      <div className="flex justify-between">
        <span>not yet payable</span>
        <span>payable now</span>
      </div>
    </div>
  );
}

/** What is owed, what is at risk, and how many of whom are where. */
export function TodayMargin({ today }: { today: TodayOut }) {
  const { owed } = today;
  return (
    <Margin width="w-[372px]">
      <h2>What you owe</h2>
      <div className="mt-[6px]">
        <Sums
          rows={[
            { label: 'Held, not yet due', figure: <Money value={owed.held} /> },
            { label: 'Cleared', figure: <Money value={owed.cleared} /> },
            ...(owed.past75.amount
              ? [
                  {
                    label: <span className="pl-3">of it older than 75 days</span>,
                    figure: <Money value={owed.past75} />,
                    weight: 'aside' as const,
                  },
                ]
              : []),
            ...(owed.inRun.amount
              ? [{ label: 'In a payout run', figure: <Money value={owed.inRun} /> }]
              : []),
            ...(owed.negative.amount
              ? [{ label: 'Negative balances', figure: <Money value={owed.negative} /> }]
              : []),
            { label: 'Owed in all', figure: <Money value={owed.total} />, weight: 'sum' },
          ]}
        />
      </div>
      <OwedBar today={today} />
      <h2 className="mt-4">At risk</h2>
      <div className="flex items-baseline gap-[10px]">
        <span className="font-serif text-[30px] font-semibold">
          <Money value={today.exposure} />
        </span>
        <span className="text-ink2">paid on sales that can still be refunded</span>
      </div>
      <h2 className="mt-[18px]">Affiliates</h2>
      <div className="mt-[6px]">
        <Sums
          rows={Object.entries(today.affiliates).map(([state, n]) => ({
            label: (
              <Link to={`/affiliates?state=${state}`}>
                <State is={state} />
              </Link>
            ),
            figure: n.toLocaleString('en-GB'),
          }))}
        />
      </div>
      <h2 className="mt-[18px]">Applications</h2>
      <div className="mt-[6px]">
        <Sums
          rows={Object.entries(today.applications).map(([state, n]) => ({
            label: (
              <Link to={`/applications?state=${state}`}>
                <State is={state} />
              </Link>
            ),
            figure: n.toLocaleString('en-GB'),
          }))}
        />
      </div>
      {Object.keys(today.invitations).length > 0 && (
        <>
          <h2 className="mt-[18px]">Invitations</h2>
          <div className="mt-[6px]">
            <Sums
              rows={Object.entries(today.invitations).map(([state, n]) => ({
                label: (
                  <Link to={`/prospects/invitations?state=${state}`}>
                    <State is={state} word={state === 'waiting' ? 'on its way' : undefined} />
                  </Link>
                ),
                figure: n.toLocaleString('en-GB'),
              }))}
            />
          </div>
        </>
      )}
      {today.next.length > 0 && (
        <>
          <h2 className="mt-[18px]">Next</h2>
          <ul className="leading-[1.75] text-ink2">
            {today.next.map((n) => (
              <li key={n} className="private">
                {n}
              </li>
            ))}
          </ul>
        </>
      )}
    </Margin>
  );
}
