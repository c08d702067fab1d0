import { and, eq } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import { record } from '../../registers/access/audit';
import { noteAcceptance } from '../../setup/policy/acceptance';
import { latest } from '../../setup/policy/versions';

/** What was ticked in an application counts now that the person has shown, by a link that came to its address, that the address is its own. */
export function acceptTicked(app: App, affiliate: Id<'affiliate'>): void {
  const row = latest(app);
  if (!row) return;
  const ticked = app.db
    .select({ id: applications.id })
    .from(applications)
    .where(and(eq(applications.affiliate, affiliate), eq(applications.policy, row.number)))
    .limit(1)
    .get();
  if (!ticked) return;
  noteAcceptance(app, affiliate);
  record(app, { kind: 'affiliate', id: affiliate }, 'policy-accepted', {
    subject: row.id,
    before: null,
    after: {
      number: row.number,
      affiliate,
    },
  });
}
