import { eq } from 'drizzle-orm';
import { expect } from 'vitest';
import { Problem } from '../../../src/server/ground/http/problem';
import { payments, runs } from '../../../src/server/ground/tables/runs';
import { clearDue } from '../../../src/server/ledger/journal';
import { readBalances } from '../../../src/server/ledger/service';
import { approveRun, reopenRun } from '../../../src/server/settle/runs/approve';
import { createRun, discardRun, runById } from '../../../src/server/settle/runs/runs';
import { sendRun } from '../../../src/server/settle/runs/send';
import { readStatusAtOnce } from '../../../src/server/settle/runs/settle';
import { planOf } from '../../helpers/plan';
import { at, status, type Played } from './world';

export function payRun(played: Played): void {
  const { world, step, inOne } = played;
  const { app, owner, finance } = world.t;
  inOne(() => {
    const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
    if (step.n % 5 === 0) return discardRun(app, finance, id, 1);
    approveRun(app, owner, id, { version: 1, total: planOf(app, runById(app, id)).total });
    if (step.n % 3 !== 0) sendRun(app, finance, id, { version: 2 });
    return undefined;
  });
}

export function reopen(played: Played): void {
  const { world, inOne } = played;
  const { app, owner, finance } = world.t;
  const approved = () => app.db.select().from(runs).where(eq(runs.state, 'approved')).get();
  if (!approved()) {
    app.clock.advance(20 * 86_400_000);
    clearDue(app);
    try {
      app.transaction(() => {
        const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
        approveRun(app, owner, id, { version: 1, total: planOf(app, runById(app, id)).total });
      });
    } catch (fault) {
      if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
    }
  }
  const run = approved();
  if (run)
    inOne(() => {
      reopenRun(app, finance, run.id, { version: run.version });
      discardRun(app, finance, run.id, run.version + 1);
    });
}

export function readStatus(played: Played): void {
  const { world, step, inOne } = played;
  const { app, owner, finance } = world.t;
  const sent = () => app.db.select().from(payments).where(eq(payments.state, 'sent')).all();
  if (!sent().length) {
    // nothing is under way: what is due is paid first, or most histories would never come here
    app.clock.advance(20 * 86_400_000);
    clearDue(app);
    inOne(() => {
      const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
      approveRun(app, owner, id, { version: 1, total: planOf(app, runById(app, id)).total });
      sendRun(app, finance, id, { version: 2 });
    });
  }
  const rows = sent();
  if (!rows.length) return;
  const text = status(app, rows, (i) => ((i + step.n) % 4 === 0 ? 'RJCT' : 'ACSC'));
  inOne(() => {
    readStatusAtOnce(app, finance, 'a.csv', text);
  });
  // the same file again changes nothing
  const before = JSON.stringify(readBalances(app));
  inOne(() => {
    expect(
      readStatusAtOnce(
        app,
        finance,
        'a.csv',
        status(
          app,
          rows.filter(
            (r) => app.db.select().from(payments).where(eq(payments.id, r.id)).get()!.state === 'settled',
          ),
          () => 'ACSC',
        ),
      ).settled,
    ).toBe(0);
  });
  expect(JSON.stringify(readBalances(app))).toBe(before);
}

export function returnPayment(played: Played): void {
  const { world, inOne, all } = played;
  const { app, finance } = world.t;
  const row = all(app.db.select().from(payments).where(eq(payments.state, 'settled')).all());
  if (row)
    inOne(() => {
      readStatusAtOnce(
        app,
        finance,
        'r.csv',
        status(app, [row], () => 'RJCT'),
      );
    });
}
