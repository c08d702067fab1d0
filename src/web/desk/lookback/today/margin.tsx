import { Link } from 'react-router';
import { type TodayOut } from '../../../../contract/lookback/today';
import { sumOf } from '../../../../core/money/amount';
import { Margin, Unread } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Money, Sums } from '../../../kit/text';

type Owed = NonNullable<TodayOut['owed']>;

/** Two windows of the same days: not yet payable hatched, payable solid. */
function OwedBar({ owed }: { owed: Owed }) {
  const { held, cleared, inRun } = owed;
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

function OwedPart({ owed }: { owed: Owed }) {
  return (
    <>
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
      <OwedBar owed={owed} />
      <h2 className="mt-4">At risk</h2>
      <div className="flex items-baseline gap-[10px]">
        <span className="font-serif text-[30px] font-semibold">
          <Money value={owed.exposure} />
        </span>
        <span className="text-ink2">paid on sales that can still be refunded</span>
      </div>
    </>
  );
}

interface Counted {
  title: string;
  counts: Partial<Record<string, number>>;
  /** the list of one state */
  to: string;
  /** what else the list is narrowed to, so that it has as many rows */
  more?: string;
  word?: (state: string) => string | undefined;
}

/** How many are in each state, each leading to the list of them. */
function Counts({ title, counts, to, more = '', word }: Counted) {
  return (
    <>
      <h2 className="mt-[18px]">{title}</h2>
      <div className="mt-[6px]">
        <Sums
          rows={Object.entries(counts).map(([state, n]) => ({
            label: (
              <Link to={`${to}?state=${state}${more}`}>
                <State is={state} word={word?.(state)} />
              </Link>
            ),
            figure: (n ?? 0).toLocaleString('en-GB'),
          }))}
        />
      </div>
    </>
  );
}

function PeoplePart({ people }: { people: NonNullable<TodayOut['people']> }) {
  return (
    <>
      <Counts title="Affiliates" counts={people.affiliates} to="/affiliates" more="&only=promoters" />
      <Counts title="Applications" counts={people.applications} to="/applications" />
      {Object.keys(people.invitations).length > 0 && (
        <Counts
          title="Invitations"
          counts={people.invitations}
          to="/prospects/invitations"
          word={(state) => (state === 'waiting' ? 'on its way' : undefined)}
        />
      )}
    </>
  );
}

function NextPart({ next }: { next: readonly string[] }) {
  if (!next.length) return null;
  return (
    <>
      <h2 className="mt-[18px]">Next</h2>
      <ul className="leading-[1.75] text-ink2">
        {next.map((n) => (
          <li key={n} className="private">
            {n}
          </li>
        ))}
      </ul>
    </>
  );
}

/** What is owed, what is at risk, and how many of whom are where. */
export function TodayMargin({ today: { owed, people, next } }: { today: TodayOut }) {
  return (
    <Margin width="w-[372px]">
      <h2>What you owe</h2>
      {owed ? <OwedPart owed={owed} /> : <Unread what="What you owe" />}
      {people ? <PeoplePart people={people} /> : <Unread what="Affiliates, applications and invitations" />}
      {next ? <NextPart next={next} /> : <Unread what="What comes next" />}
    </Margin>
  );
}
