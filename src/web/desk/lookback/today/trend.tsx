import { lazy, Suspense, type ReactNode } from 'react';
import { startOfDay } from '../../../../core/calendar/zone';
import { weekly, type TrendPoint } from '../../../../core/figures/trend';
import { useProgramme } from '../../../kit/programme';

const TrendChart = lazy(() => import('./trend-chart'));

interface Props {
  label: string;
  points: TrendPoint[];
  show: (value: number | null) => ReactNode;
}

/** A trend as a chart for those who see it, and week by week as a table for those who hear it. */
export function Trend({ label, points, show }: Props) {
  const { day: inWords, zone } = useProgramme();
  const day = (name: string) => inWords(startOfDay(name, zone));
  return (
    <div className="relative h-[30px]">
      <Suspense>
        <TrendChart {...{ label, points, show, day }} />
      </Suspense>
      <table className="sr-only">
        <caption>{label}, by week</caption>
        <thead>
          <tr>
            <th scope="col">Up to</th>
            <th scope="col">7 days</th>
            <th scope="col">30 days</th>
          </tr>
        </thead>
        <tbody>
          {weekly(points).map((p) => (
            <tr key={p.day}>
              <th scope="row">{day(p.day)}</th>
              <td>{show(p.week)}</td>
              <td>{show(p.month)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
