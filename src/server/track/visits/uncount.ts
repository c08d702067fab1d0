import type { Unpaid } from '../../../core/attribution/clicks';
import { keptText } from '../../../core/text/kept';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';

const statement = perApp((app) =>
  app.sqlite.prepare<[string, string]>('UPDATE visits SET uncounted = ? WHERE id = ?'),
);

/** Says why a visit that was counted is not paid for as a click. */
export function uncount(app: App, visit: string, why: Unpaid): void {
  statement(app).run(keptText(why), visit);
}
