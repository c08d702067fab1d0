import { momentOf } from '../../../core/calendar/zone';
import { type App } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
import { theProgramme } from './record';

/** A wall-clock time of the programme's zone as a moment. @throws Problem for a day that no calendar has */
export function readWall(app: App, text: string, field: string, title: string): number {
  const local = Date.parse(`${text}:00Z`);
  if (Number.isNaN(local) || new Date(local).toISOString().slice(0, 16) !== text)
    throw refuse(field, `${title} is not a day and time of the calendar`, '2027-04-01T09:00');
  return momentOf(local, theProgramme(app).zone);
}
