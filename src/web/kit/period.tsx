import { useState } from 'react';
import { addDays, dayOf } from '../../core/calendar/zone';
import { Choice } from './choice';
import { DayInput } from './day-input';
import { useProgramme } from './programme';

const spans = {
  '7': 'of the last 7 days',
  '30': 'of the last 30 days',
  '90': 'of the last 90 days',
} as const;
type Span = keyof typeof spans | 'any' | 'chosen';
/** The period of a filter sentence: any day, the last days, or days chosen one by one. */
export function Period({
  from,
  to,
  any = true,
  onChange,
}: {
  from: string;
  to: string;
  /** false: some days have to be said */
  any?: boolean;
  onChange: (from: string, to: string) => void;
}) {
  const { now, zone } = useProgramme();
  const today = dayOf(now, zone);
  const since = (days: string) => addDays(today, 1 - Number(days));
  // chosen days stay chosen days until the address says something else
  const [chosen, setChosen] = useState<string | null>(null);
  const choosing = chosen === `${from} ${to}`;
  const choose = (nextFrom: string, nextTo: string) => {
    setChosen(`${nextFrom} ${nextTo}`);
    onChange(nextFrom, nextTo);
  };
  const known = (Object.keys(spans) as (keyof typeof spans)[]).find((d) => from === since(d) && to === '');
  const value: Span = choosing ? 'chosen' : (known ?? (from || to ? 'chosen' : 'any'));
  const reversed = from !== '' && to !== '' && from > to;
  return (
    <>
      <Choice<Span>
        label="Period"
        value={value}
        options={[
          ...(any ? [['any', 'of any day'] as const] : []),
          ...(Object.entries(spans) as [Span, string][]),
          ['chosen', 'of chosen days'],
        ]}
        onChange={(v) => {
          if (v === 'chosen') return choose(from || since('30'), to || today);
          setChosen(null);
          if (v === 'any') onChange('', '');
          else onChange(since(v), '');
        }}
      />
      {value === 'chosen' && (
        <>
          {' '}
          from <DayInput label="From" value={from} onDay={(day) => choose(day, to)} /> to{' '}
          <DayInput label="To" value={to} onDay={(day) => choose(from, day)} />
          {reversed && (
            <span role="alert" className="text-madder">
              {' '}
              the second day is before the first
            </span>
          )}
        </>
      )}
    </>
  );
}
