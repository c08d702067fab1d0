import { fillIn } from '../../core/text/live';
import { rateOfProgramme } from '../terms/service';
import type { App } from '../context';
import { theProgramme } from '../context';
import { publicTerms } from './service';
import { productsInUse } from './store';

/** Everything that a text may ask for in braces, and what it is now. */
export function liveValues(app: App): Record<string, string> {
  const { windowDays } = theProgramme(app);
  const values: Record<string, string> = { rate: rateOfProgramme(app), window: `${windowDays} ${windowDays === 1 ? 'day' : 'days'}` };
  for (const p of productsInUse(app)) {
    const { price, reward } = publicTerms(app, p);
    values[`rate ${p.code}`] = reward;
    values[`price ${p.code}`] = price || 'no price yet';
  }
  return values;
}

/** A text as it is read now; what nothing is known of any more reads as such. */
export function filled(app: App, text: string): string {
  if (!text.includes('{')) return text;
  const { text: read, unknown } = fillIn(text, liveValues(app));
  return unknown.reduce((t, raw) => t.replaceAll(raw, '(not offered now)'), read);
}
