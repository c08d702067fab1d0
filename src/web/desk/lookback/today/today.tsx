import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { readToday, type TodayOut } from '../../../../contract/lookback/today';
import { formatWeekday } from '../../../../core/calendar/format';
import type { Figures } from '../../../../core/figures/metrics';
import { sliding } from '../../../../core/figures/trend';
import { sumOf } from '../../../../core/money/amount';
import { call } from '../../../kit/api';
import { Empty, Failed, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { Mark, State } from '../../../kit/state';
import { Money, Share, Sums } from '../../../kit/text';
import { JoinAddress } from '../../shared/join-address';
import { Spark } from './spark';

const figures: {
  name: string;
  of: keyof Figures & ('epc' | 'conversion' | 'averageOrder' | 'shareReversed' | 'clicks' | 'orders');
  how: string;
  kind: 'money' | 'share' | 'count';
}[] = [
  { name: 'Per 100 clicks', of: 'epc', how: 'commission ÷ clicks × 100', kind: 'money' },
  { name: 'Conversion', of: 'conversion', how: 'orders ÷ clicks', kind: 'share' },
  { name: 'Average order', of: 'averageOrder', how: 'commissionable value ÷ orders', kind: 'money' },
  { name: 'Share reversed', of: 'shareReversed', how: 'reversed ÷ granted commission', kind: 'share' },
  { name: 'Clicks', of: 'clicks', how: 'visits by tracking links, automated ones left out', kind: 'count' },
  { name: 'Orders', of: 'orders', how: 'credited to an affiliate', kind: 'count' },
];

const shownDays = 98;

function Figure({ value, kind }: { value: number | null; kind: 'money' | 'share' | 'count' }) {
  const { base } = useProgramme();
  if (value === null) return <span className="text-ink3">—</span>;
  if (kind === 'money') return <Money of={{ amount: value, currency: base }} />;
  return kind === 'share' ? <Share ppm={value} /> : <>{value.toLocaleString('en-GB')}</>;
}

function Waiting({ today }: { today: TodayOut }) {
  if (!today.waiting.length && !today.missing.length)
    return (
      <div className="mt-2">
        <Empty title="Nothing waits for you">
          Applications, payout runs and trouble with the shop’s connection appear here.
        </Empty>
      </div>
    );
  return (
    <>
      {today.missing.map((m, i) => (
        <Link
          key={m.text}
          to={m.to}
          className="grid grid-cols-[14px_1fr_62px] items-center gap-[10px] border-b border-rule2 py-2 hover:bg-sheet"
        >
          <Mark look="waiting" />
          <span>
            <b className="font-semibold">{i + 1}.</b> {m.text}
          </span>
          <span className="text-right font-semibold text-copper">go</span>
        </Link>
      ))}
      {today.waiting.map((w) => (
        <Link
          key={w.text + w.more}
          to={w.to}
          className="grid grid-cols-[14px_1fr_90px_62px] items-center gap-[10px] border-b border-rule2 py-2 hover:bg-sheet"
        >
          <Mark look={w.mark} />
          <span className="min-w-0 truncate">
            <b className="font-semibold">{w.text}</b>
            {w.more && <span className="text-ink2">, {w.more}</span>}
          </span>
          <span className="text-right">
            <Money of={w.amount} />
          </span>
          <span className="text-right font-semibold text-copper">{w.act}</span>
        </Link>
      ))}
    </>
  );
}

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

export function Today() {
  const { zone } = useProgramme();
  const query = useQuery({ queryKey: ['today'], queryFn: () => call(readToday) });
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const today = query.data;
  const week = sliding(today.trend, 7).slice(-shownDays);
  const month = sliding(today.trend, 30).slice(-shownDays);
  // counts are drawn a day, so that both windows have one scale
  const drawn = (f: (typeof figures)[number], window: ReturnType<typeof sliding>, days: number) =>
    window.map((w) => {
      const v = w?.[f.of] ?? null;
      return v === null || f.kind !== 'count' ? v : v / days;
    });
  const { owed } = today;
  return (
    <div className="flex min-h-0 flex-1">
      <section className="min-w-0 flex-1 overflow-auto px-5 py-4" tabIndex={0} aria-label="Today">
        <div className="flex items-baseline justify-between gap-4">
          <h1>Today, {formatWeekday(today.now, zone)}</h1>
          <JoinAddress address={today.joinAddress} />
        </div>
        <h2 className="mt-[14px] mb-[2px]">Waiting on you</h2>
        <Waiting today={today} />
        <h2 className="mt-[18px] mb-[6px]">How it goes</h2>
        <div className="grid grid-cols-[130px_84px_84px_1fr] gap-[10px] border-b border-ink pb-1 text-[12px] text-ink3">
          <span />
          <span className="text-right">7 days</span>
          <span className="text-right">30 days</span>
          <span>14 weeks; line over 7 days, hatched over 30</span>
        </div>
        {figures.map((f) => (
          <div
            key={f.of}
            className="grid grid-cols-[130px_84px_84px_1fr] items-center gap-[10px] border-b border-rule2 py-[5px]"
          >
            <span title={f.how}>
              {f.name}
              <span className="sr-only">: {f.how}</span>
            </span>
            <span className="text-right font-serif text-[16px] font-semibold">
              <Figure value={today.week[f.of]} kind={f.kind} />
            </span>
            <span className="text-right font-serif text-[16px] font-semibold">
              <Figure value={today.month[f.of]} kind={f.kind} />
            </span>
            <Spark label={`${f.name} over 14 weeks`} short={drawn(f, week, 7)} long={drawn(f, month, 30)} />
          </div>
        ))}
      </section>
      <Margin width="w-[372px]">
        <h2>What you owe</h2>
        <div className="mt-[6px]">
          <Sums
            rows={[
              { label: 'Held, not yet due', figure: <Money of={owed.held} /> },
              { label: 'Cleared', figure: <Money of={owed.cleared} /> },
              ...(owed.past75.amount
                ? [
                    {
                      label: <span className="pl-3">of it older than 75 days</span>,
                      figure: <Money of={owed.past75} />,
                      weight: 'aside' as const,
                    },
                  ]
                : []),
              ...(owed.inRun.amount ? [{ label: 'In a payout run', figure: <Money of={owed.inRun} /> }] : []),
              ...(owed.negative.amount
                ? [{ label: 'Negative balances', figure: <Money of={owed.negative} /> }]
                : []),
              { label: 'Owed in all', figure: <Money of={owed.total} />, weight: 'sum' },
            ]}
          />
        </div>
        <OwedBar today={today} />
        <h2 className="mt-4">At risk</h2>
        <div className="flex items-baseline gap-[10px]">
          <span className="font-serif text-[30px] font-semibold">
            <Money of={today.exposure} />
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
    </div>
  );
}
