import { useId } from 'react';
import { formatMoment } from '../../core/calendar/format';
import { momentOf } from '../../core/calendar/zone';
import { DayInput } from './day-input';
import { Labelled } from './labelled';
import { Hint } from './note';
import { useProgramme } from './programme';
import { Select } from './select';

const quarters = Array.from(
  { length: 96 },
  (_, i) => `${String(Math.floor(i / 4)).padStart(2, '0')}:${String((i % 4) * 15).padStart(2, '0')}`,
);

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  empty: string;
  hint?: string;
}

/** A day and a quarter of an hour in the programme's zone; empty says what it means. */
export function WallField({ label, value, onChange, empty, hint }: Props) {
  const id = useId();
  const { zone } = useProgramme();
  const [day = '', time = '00:00'] = value.split('T');
  // the same moment elsewhere: in UTC, and where this browser stands
  const moment = day ? momentOf(Date.parse(`${day}T${time}:00Z`), zone) : null;
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const others =
    moment === null
      ? []
      : [...new Set(['UTC', here])]
          .filter((z) => z !== zone)
          .map((z) => `${formatMoment(moment, z)} in ${z}`);
  const times = quarters.includes(time) ? quarters : [time, ...quarters];
  return (
    <div>
      <Labelled htmlFor={id} className="mb-[3px]">
        {label}
      </Labelled>
      <div className="flex items-start gap-2 [&>*]:shrink-0">
        <DayInput id={id} value={day} onDay={(to) => onChange(to ? `${to}T${time}` : '')} />
        {day ? (
          <Select
            label={`${label}, time`}
            className="w-24"
            value={time}
            options={times.map((t) => [t, t] as const)}
            onPick={(to) => onChange(`${day}T${to}`)}
          />
        ) : (
          <span className="shrink! py-[6px] text-ink3">{empty}</span>
        )}
        {day && (
          <button type="button" className="link py-[6px]" onClick={() => onChange('')}>
            clear
          </button>
        )}
      </div>
      <Hint className="mt-1">
        {hint ? `${hint} ` : ''}In {zone}, quarters of an hour{others.length > 0 && `; ${others.join(', ')}`}
      </Hint>
    </div>
  );
}
