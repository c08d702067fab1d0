import { useId } from 'react';
import { Bar, BarChart, Cell, LabelList, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { PortalHome } from '../../../contract/portal/home';
import { formatMoney } from '../../../core/money/amount';
import { Hatch } from '../../kit/hatch';
import { comingFoot } from './coming-words';

type Coming = PortalHome['coming'];

interface Props {
  coming: Coming;
  /** a moment in words */
  day: (at: number) => string;
}

/** The year goes without saying under a column. */
const short = (words: string) => words.replace(/ \d{4}\b/, '');

/** An amount of whole units without its zeros. */
const whole = (amount: Coming[number]['amount']) => formatMoney(amount).replace(/[.,]0+(?=\D*$)/, '');

/** What was paid and what comes, a column each, in the order of time. */
export default function ComingChart({ coming, day }: Props) {
  const hatch = useId();
  const points = coming.map((column) => ({
    foot: short(comingFoot(column, day)),
    height: Math.max(0, column.amount.amount),
    says: column.kind === 'expected' ? `about ${whole(column.amount)}` : formatMoney(column.amount),
  }));
  return (
    <ResponsiveContainer width="100%" height={150}>
      <BarChart
        // the list below says the same to those who do not see it
        accessibilityLayer={false}
        data={points}
        margin={{ top: 18, right: 0, bottom: 0, left: 0 }}
        barCategoryGap={3}
        title="What comes to you"
      >
        <defs>
          <Hatch id={hatch} strength={0.8} />
        </defs>
        <XAxis
          dataKey="foot"
          interval={0}
          tick={{ fontSize: 11, fill: 'var(--color-ink2)' }}
          tickLine={false}
          axisLine={{ stroke: 'var(--color-ink)' }}
        />
        <YAxis hide domain={[0, 'dataMax']} />
        <Bar dataKey="height" isAnimationActive={false}>
          {coming.map(({ kind }, i) => (
            <Cell
              key={i}
              fill={kind === 'paid' ? 'var(--color-sheet)' : solidOr(kind, `url(#${hatch})`)}
              stroke="var(--color-ink)"
              strokeDasharray={kind === 'expected' ? '4 3' : undefined}
            />
          ))}
          <LabelList dataKey="says" position="top" fontSize={11} fill="var(--color-ink)" />
        </Bar>
      </BarChart>
    </ResponsiveContainer>
  );
}

const solidOr = (kind: Coming[number]['kind'], hatched: string) =>
  kind === 'cleared' || kind === 'in-run' ? 'var(--color-ink)' : hatched;
