import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { readToday, type TodayOut } from '../../../../contract/lookback/today';
import { formatWeekday } from '../../../../core/calendar/format';
import { measures } from '../../../../core/figures/measures';
import { trendOf, windowsOf } from '../../../../core/figures/trend';
import { asking } from '../../../kit/asking';
import { Split } from '../../../kit/layout';
import { Empty, Failed, Skeleton, Unread } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { Mark } from '../../../kit/state';
import { Money, Share } from '../../../kit/text';
import { JoinAddress } from '../../shared/join-address';
import { TodayMargin } from './margin';
import { Trend } from './trend';

const figures: {
  of: keyof typeof measures;
  kind: 'money' | 'share' | 'count';
}[] = [
  { of: 'epc', kind: 'money' },
  { of: 'conversion', kind: 'share' },
  { of: 'averageOrder', kind: 'money' },
  { of: 'shareReversed', kind: 'share' },
  { of: 'clicks', kind: 'count' },
  { of: 'orders', kind: 'count' },
];

const shownDays = 98;

function Figure({ value, kind }: { value: number | null; kind: 'money' | 'share' | 'count' }) {
  const { base } = useProgramme();
  if (value === null) return <span className="text-ink3">—</span>;
  if (kind === 'money') return <Money value={{ amount: value, currency: base }} />;
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
            <Money value={w.amount} />
          </span>
          <span className="text-right font-semibold text-copper">{w.act}</span>
        </Link>
      ))}
    </>
  );
}

function Performance({ of: { week, month, trend } }: { of: NonNullable<TodayOut['performance']> }) {
  const windows = windowsOf(trend);
  return (
    <>
      <div className="grid grid-cols-[172px_78px_78px_1fr] gap-[10px] border-b border-ink pb-1 text-[12px] text-ink3">
        <span />
        <span className="text-right">7 days</span>
        <span className="text-right">30 days</span>
        <span>14 weeks; line over 7 days, hatched over 30</span>
      </div>
      {figures.map((f) => (
        <div
          key={f.of}
          className="grid grid-cols-[172px_78px_78px_1fr] items-center gap-[10px] border-b border-rule2 py-[5px]"
        >
          <span title={measures[f.of].how}>
            {measures[f.of].name}
            <span className="sr-only">: {measures[f.of].how}</span>
          </span>
          <span className="text-right font-serif text-[16px] font-semibold">
            <Figure value={week[f.of]} kind={f.kind} />
          </span>
          <span className="text-right font-serif text-[16px] font-semibold">
            <Figure value={month[f.of]} kind={f.kind} />
          </span>
          <Trend
            label={`${measures[f.of].name} over 14 weeks`}
            points={trendOf(windows, { of: f.of, shown: shownDays, isCount: f.kind === 'count' })}
            show={(value) => <Figure value={value} kind={f.kind} />}
          />
        </div>
      ))}
    </>
  );
}

export function Today() {
  const { zone } = useProgramme();
  const query = useQuery(asking(readToday));
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const today = query.data;
  return (
    <Split>
      <section className="min-w-0 flex-1 overflow-auto px-5 py-4" tabIndex={0} aria-label="Today">
        <div className="flex items-baseline justify-between gap-4">
          <h1>Today, {formatWeekday(today.now, zone)}</h1>
          <JoinAddress address={today.joinAddress} />
        </div>
        <h2 className="mt-[14px] mb-[2px]">Waiting on you</h2>
        <Waiting today={today} />
        <h2 className="mt-[18px] mb-[6px]">How it goes</h2>
        {today.performance ? <Performance of={today.performance} /> : <Unread what="Performance" />}
      </section>
      <TodayMargin today={today} />
    </Split>
  );
}
