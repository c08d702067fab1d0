import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { exportOwnFigures, readOwnFigures, type FiguresOut } from '../../../contract/portal/figures';
import { readPortalHome } from '../../../contract/portal/home';
import { addDays, dayOf, startOfDay } from '../../../core/calendar/zone';
import { figureGroups, groupWords, type FigureGroup } from '../../../core/figures/groups';
import { useAddress } from '../../kit/address';
import { addressOf } from '../../kit/api';
import { asking } from '../../kit/asking';
import { Choice } from '../../kit/choice';
import { Period } from '../../kit/period';
import { Failed, Skeleton } from '../../kit/place';
import { useProgramme } from '../../kit/programme';
import { Money, Small } from '../../kit/text';
import { useLooking } from '../base';
import { Visits } from './visits';

// charts are fetched when somebody looks at one
const FiguresChart = lazy(() => import('./chart'));

const usualDays = 30;

/** Own clicks, orders and commission over some days, told apart in several ways. */
export function Figures() {
  const address = useAddress();
  const by = figureGroups.find((g) => g === address.get('by')) ?? 'day';
  const { now, zone } = useProgramme();
  const to = address.get('to');
  const from = address.get('from') || addDays(dayOf(now, zone), 1 - usualDays);
  const asked = { by, from, ...(to ? { to } : {}) };
  const query = useQuery(asking(readOwnFigures, { query: asked }));
  const looking = useLooking();
  return (
    <>
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div>
          <h1>Figures</h1>
          <p className="text-ink2">
            <Choice<FigureGroup>
              label="By"
              value={by}
              options={figureGroups.map((g) => [g, groupWords[g]] as const)}
              onChange={(v) => address.set('by', v === 'day' ? '' : v)}
            />{' '}
            <Period from={from} to={to} any={false} onChange={(a, b) => address.put({ from: a, to: b })} />
          </p>
        </div>
        {!looking && (
          <a className="link" href={addressOf(exportOwnFigures, {}, asked)} download>
            CSV
          </a>
        )}
      </div>
      {query.isPending && <Skeleton />}
      {query.error && <Failed fault={query.error} retry={() => void query.refetch()} />}
      {query.data && <Shown figures={query.data} by={by} />}
      <LastVisits />
    </>
  );
}

/** The last visits, counted or not. */
function LastVisits() {
  const visits = useQuery(asking(readPortalHome)).data?.visits;
  return visits ? <Visits visits={visits} /> : null;
}

const share = (ppm: number) => (ppm / 10_000).toFixed(1);

function Shown({ figures, by }: { figures: FiguresOut; by: FigureGroup }) {
  const { day, zone } = useProgramme();
  const dayWords = (text: string) => day(startOfDay(text, zone));
  const { total, conversion, rows } = figures;
  return (
    <>
      <dl className="mt-4 flex flex-wrap gap-x-10 gap-y-2">
        <Sum name="Clicks">{total.clicks.toLocaleString('en-GB')}</Sum>
        <Sum name="Orders">{total.orders.toLocaleString('en-GB')}</Sum>
        <Sum name="Orders from 100 clicks">
          {conversion ? share(conversion.ppm) : '—'}{' '}
          {conversion && (
            <Small>
              {share(conversion.low)}–{share(conversion.high)}
            </Small>
          )}
        </Sum>
        <Sum name="Worth">
          <Money value={total.value} />
        </Sum>
        <Sum name="Commission">
          <Money value={total.commission} />
        </Sum>
      </dl>
      {by === 'day' && (
        <div className="mt-4" aria-hidden>
          <Suspense fallback={<div className="h-[190px]" />}>
            <FiguresChart rows={rows} day={dayWords} />
          </Suspense>
          <Small below>hatched: clicks · line: commission</Small>
        </div>
      )}
      <FiguresTable rows={by === 'day' ? [...rows].reverse() : rows} by={by} dayWords={dayWords} />
    </>
  );
}

function Sum({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <dt className="text-ink2">{name}</dt>
      <dd className="font-serif text-[20px] font-semibold">{children}</dd>
    </div>
  );
}

const headOf: Partial<Record<FigureGroup, string>> = {
  day: 'Day',
  link: 'Link',
  creative: 'Creative',
  coupon: 'Coupon',
  product: 'Product',
};

function FiguresTable({
  rows,
  by,
  dayWords,
}: {
  rows: FiguresOut['rows'];
  by: FigureGroup;
  dayWords: (day: string) => string;
}) {
  return (
    <div className="mt-4 overflow-x-auto" tabIndex={0} role="region" aria-label="Figures">
      <table className="table">
        <thead>
          <tr>
            <th>{headOf[by] ?? by}</th>
            <th className="figure">Clicks</th>
            <th className="figure">Orders</th>
            <th className="figure hidden sm:table-cell">Worth</th>
            <th className="figure">Commission</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key}>
              <td>{by === 'day' ? dayWords(row.key) : row.name}</td>
              <td className="figure">{row.clicks.toLocaleString('en-GB')}</td>
              <td className="figure">{row.orders.toLocaleString('en-GB')}</td>
              <td className="figure hidden sm:table-cell">
                <Money value={row.value} />
              </td>
              <td className="figure">
                <Money value={row.commission} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length === 0 && <p className="mt-3 text-ink2">Nothing in these days.</p>}
    </div>
  );
}
