import { eq } from 'drizzle-orm';
import { type Actor, type App } from '../server/ground/context';
import { payments } from '../server/ground/tables/runs';
import { approveRun } from '../server/settle/runs/approve';
import { outlineOf } from '../server/settle/runs/outline';
import { createRun, runById } from '../server/settle/runs/runs';
import { sendRun } from '../server/settle/runs/send';
import { readStatusAtOnce } from '../server/settle/runs/settle';

/** A past payout run: drafted by finance, approved by the owner, settled but for one line if a reason is given. */
export function payRun(
  app: App,
  owner: Actor,
  { finance, cutoff, last }: { finance: Actor; cutoff: string; last: string },
): void {
  const id = createRun(app, finance, { cutoff, minimum: '25.00' });
  const { payments: proposed, total } = outlineOf(app, runById(app, id));
  if (!proposed.length) return;
  approveRun(app, owner, id, { version: runById(app, id).version, total });
  sendRun(app, finance, id, { version: runById(app, id).version });
  const rows = app.db.select().from(payments).where(eq(payments.run, id)).orderBy(payments.id).all();
  const lines = rows.map(
    (r, i) => `${r.endToEnd},${i === rows.length - 1 && last !== 'ACSC' ? `RJCT,${last}` : 'ACSC,'}`,
  );
  readStatusAtOnce(app, finance, 'status.csv', `end_to_end_id,status,reason\n${lines.join('\n')}\n`);
}
