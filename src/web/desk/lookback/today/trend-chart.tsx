import { useId, type ReactNode } from 'react';
import { Area, ComposedChart, Line, ResponsiveContainer, Tooltip, YAxis } from 'recharts';
import type { TrendPoint } from '../../../../core/figures/trend';
import { Hatch } from '../../../kit/hatch';

interface Props {
  label: string;
  points: TrendPoint[];
  /** the figure in words */
  show: (value: number | null) => ReactNode;
  day: (day: string) => string;
}

/** A trend as engraved: the 30-day window hatched below, the 7-day window as a line; what is pointed at is said. */
export default function TrendChart({ label, points, show, day }: Props) {
  const hatch = useId();
  return (
    <ResponsiveContainer width="100%" height={30}>
      <ComposedChart data={points} margin={{ top: 2, right: 0, bottom: 1, left: 0 }} title={label}>
        <defs>
          <Hatch id={hatch} strength={0.55} />
        </defs>
        <YAxis hide domain={[0, 'dataMax']} />
        <Tooltip
          cursor={{ stroke: 'var(--color-ink3)', strokeDasharray: '2 2' }}
          isAnimationActive={false}
          allowEscapeViewBox={{ y: true }}
          wrapperStyle={{ zIndex: 20 }}
          content={({ active, payload }) => {
            const point = active ? (payload?.[0]?.payload as TrendPoint | undefined) : undefined;
            return point ? <Pointed {...{ point, show, day }} /> : null;
          }}
        />
        <Area
          dataKey="monthDrawn"
          type="linear"
          stroke="none"
          fill={`url(#${hatch})`}
          fillOpacity={1}
          activeDot={false}
          isAnimationActive={false}
        />
        <Line
          dataKey="weekDrawn"
          type="linear"
          stroke="var(--color-copper)"
          strokeWidth={1.6}
          dot={false}
          activeDot={{ r: 2.5, stroke: 'none', fill: 'var(--color-copper)' }}
          isAnimationActive={false}
        />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

function Pointed({ point, show, day }: Pick<Props, 'show' | 'day'> & { point: TrendPoint }) {
  return (
    <div className="rounded-sm border border-rule bg-sheet px-2 py-1 text-[12px] whitespace-nowrap shadow-float">
      <p className="text-ink3">up to {day(point.day)}</p>
      <p>
        7 days <b>{show(point.week)}</b> · 30 days <b>{show(point.month)}</b>
      </p>
    </div>
  );
}
