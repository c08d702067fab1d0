import { addDays, dayOf, isDay, startOfDay } from '../../core/calendar/zone';
import { usualDays } from '../../core/figures/measures';
import type { App } from '../ground/context';
import { refuse } from '../ground/http/problem';
import { theProgramme } from '../registers/programme/record';

/** Days that can be looked at at once: a year and what a leap year adds. */
const mostDays = 366;

export interface Period {
  from: string;
  to: string;
  /** moments: from inclusive, to exclusive */
  begin: number;
  end: number;
}

interface Typed {
  from?: string;
  to?: string;
}

/** @throws Problem `invalid` for what is no day */
function dayTyped(text: string, field: 'from' | 'to', example: string): string {
  if (!isDay(text)) throw refuse(field, `${field === 'from' ? 'From' : 'To'}: “${text}” is no day`, example);
  return text;
}

/** The days that figures are asked for: the last thirty where none are named. @throws Problem `invalid` */
export function periodOf(app: App, { from, to }: Typed): Period {
  const { zone } = theProgramme(app);
  const last = dayTyped(to ?? dayOf(app.clock.now(), zone), 'to', '2027-03-12');
  const first = dayTyped(from ?? addDays(last, 1 - usualDays), 'from', '2027-02-10');
  inOrder(first, last);
  if (addDays(first, mostDays) <= last)
    throw refuse('from', 'From: a year can be looked at at once', addDays(last, 1 - mostDays));
  return {
    from: first,
    to: last,
    begin: startOfDay(first, zone),
    end: startOfDay(addDays(last, 1), zone),
  };
}

function inOrder(first: string, last: string): void {
  if (last < first) throw refuse('to', `To: ${last} is before ${first}`, first);
}

/** The moments that lists are narrowed to; open where no day is named. @throws Problem `invalid` */
export function spanOf(app: App, { from, to }: Typed): { begin: number | null; end: number | null } {
  const { zone } = theProgramme(app);
  const first = from === undefined ? null : dayTyped(from, 'from', '2027-02-10');
  const last = to === undefined ? null : dayTyped(to, 'to', '2027-03-12');
  if (first !== null && last !== null) inOrder(first, last);
  return {
    begin: first === null ? null : startOfDay(first, zone),
    end: last === null ? null : startOfDay(addDays(last, 1), zone),
  };
}
