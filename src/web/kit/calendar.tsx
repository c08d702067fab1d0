import { DayPicker, type ClassNames } from 'react-day-picker';
import { enGB } from 'react-day-picker/locale';
import { isDay, type Day } from '../../core/calendar/zone';

const look: Partial<ClassNames> = {
  month_caption: 'flex h-7 items-center px-1 font-semibold',
  nav: 'absolute top-3 right-3 flex gap-1',
  button_previous: 'size-7 rounded-sm text-ink2 hover:bg-copper-wash disabled:opacity-40',
  button_next: 'size-7 rounded-sm text-ink2 hover:bg-copper-wash disabled:opacity-40',
  chevron: 'm-auto size-4 fill-current',
  month_grid: 'mt-1 border-collapse',
  weekday: 'size-8 text-[11px] font-normal text-ink3',
  day: 'p-0 text-center',
  day_button: 'size-8 rounded-sm hover:bg-copper-wash disabled:hover:bg-transparent',
  today: 'font-bold text-copper',
  selected: '[&>button]:bg-copper [&>button]:text-white [&>button]:hover:bg-copper-dark',
  outside: 'text-ink3',
  disabled: 'text-ink3 line-through opacity-60',
};

interface Props {
  value: Day | '';
  /** the programme's day */
  today: Day;
  min?: Day;
  max?: Day;
  onPick: (day: Day) => void;
}

/** A month of days to pick one from, weeks beginning on Monday; arrows move, Enter picks. */
export default function Calendar({ value, today, min, max, onPick }: Props) {
  return (
    <DayPicker
      autoFocus
      mode="single"
      required
      showOutsideDays
      weekStartsOn={1}
      locale={enGB}
      classNames={look}
      today={asDate(today)}
      selected={isDay(value) ? asDate(value) : undefined}
      defaultMonth={asDate(isDay(value) ? value : today)}
      disabled={[...(min ? [{ before: asDate(min) }] : []), ...(max ? [{ after: asDate(max) }] : [])]}
      onSelect={(date) => onPick(asDay(date))}
    />
  );
}

/** The picker thinks in this browser's days: noon, so that no change of the clock moves one. */
function asDate(day: Day): Date {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  return new Date(year, month - 1, date, 12);
}

function asDay(date: Date): Day {
  const two = (n: number) => String(n).padStart(2, '0');
  return `${String(date.getFullYear()).padStart(4, '0')}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
}
