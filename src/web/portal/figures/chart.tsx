import { useId } from 'react';
import { Bar, ComposedChart, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { FiguresOut } from '../../../contract/portal/figures';
import { formatMoney } from '../../../core/money/amount';
import { counted } from '../../../core/text/counted';
import { Hatch } from '../../kit/hatch';

type Row = FiguresOut['rows'][number];

interface Props {
  rows: Row[];
  /** a day in words */
  day: (day: string) => string;
}

/** Clicks as hatched columns, commission as a line over them, day by day. */
export default function FiguresChart({ rows, day }: Props) {
  const hatch = useId();
  const points = rows.map((row) => ({ ...row, earned: row.commission.amount }));
  return (
    <ResponsiveContainer width="100%" height={190}>
      <ComposedChart
        // the table below says the same to those who do not see it
        accessibilityLayer={false}
        data={points}
        margin={{ top: 8, right: 0, bottom: 0, left: 0 }}
        title="Clicks and commission by day"
      >
        <defs>
          <Hatch id={hatch} strength={0.6} />
        </defs>
        <XAxis
          dataKey="key"
          tickFormatter={day}
          tick={{ fontSize: 11, fill: 'var(--color-ink3)' }}
          tickLine={false}
          axisLine={{ stroke: 'var(--color-ink)' }}
          minTickGap={48}
        />
        <YAxis yAxisId="clicks" hide domain={[0, 'dataMax']} />
        <YAxis yAxisId="earned" hide domain={[0, 'dataMax']} />
        <Tooltip
          cursor={{ stroke: 'var(--color-ink3)', strokeDasharray: '2 2', fill: 'none' }}
          isAnimationActive={false}
          wrapperStyle={{ zIndex: 20 }}
          content={({ active, payload }) => {
            const row = active ? (payload?.[0]?.payload as Row | undefined) : undefined;
            return row ? <Pointed row={row} day={day} /> : null;
          }}
        />
        <Bar
          yAxisId="clicks"
          dataKey="clicks"
          fill={`url(#${hatch})`}
          stroke="var(--color-ink3)"
          strokeWidth={0.6}
          isAnimationActive={false}
        />
        <Line
          yAxisId="earned"
          dataKey="earned"
          type="linear"
          stroke="var(--color-copper)"
          strokeWidth={1.8}
          dot={false}
          isAnimationActive={false}
        />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

function Pointed({ row, day }: { row: Row; day: Props['day'] }) {
  return (
    <div className="rounded-sm border border-rule bg-sheet px-2 py-1 text-[12px] whitespace-nowrap shadow-float">
      <p className="text-ink3">{day(row.key)}</p>
      <p>
        {counted(row.clicks, 'click')} · {counted(row.orders, 'order')} ·{' '}
        <b className="private">{formatMoney(row.commission)}</b>
      </p>
    </div>
  );
}
