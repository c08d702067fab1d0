import { expect } from 'vitest';
import { Problem } from '../../../src/server/ground/http/problem';
import { commissions } from '../../../src/server/ground/tables/ledger';
import { correctCommission, giveUpBalance } from '../../../src/server/ledger/amend';
import { declineCommission } from '../../../src/server/ledger/journal';
import { balancesOf } from '../../../src/server/ledger/service';
import { readStatus } from './paying';
import { type Played } from './world';

export function correct(played: Played): void {
  const { world, step, inOne, all } = played;
  const { app, finance } = world.t;
  const row = all(app.db.select().from(commissions).all());
  if (row)
    inOne(() => {
      correctCommission(app, finance, row.id, {
        difference: ((step.share - 50) / 10).toFixed(2),
        reason: 'Agreed otherwise',
      });
    });
}

export function giveUp(played: Played): void {
  const { world, step, inOne } = played;
  const { app, finance } = world.t;
  const affiliate = world.affiliates[step.n % 3]!;
  const open = () => {
    const b = balancesOf(app, affiliate);
    return b.held + b.cleared;
  };
  // a negative balance comes of what was paid and is taken back
  const paidTo = () =>
    app.db
      .select()
      .from(commissions)
      .all()
      .find((c) => c.affiliate === affiliate && c.paid > 0);
  if (!paidTo()) readStatus(played);
  const paid = paidTo();
  if (open() >= 0 && paid) {
    try {
      app.transaction(() => {
        correctCommission(app, finance, paid.id, {
          difference: (-(open() + 1 + step.share) / 100).toFixed(2),
          reason: 'Paid too much',
        });
      });
    } catch (fault) {
      if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
    }
  }
  const owed = open();
  inOne(() => giveUpBalance(app, finance, affiliate, 'Too small to ask for'));
  expect(open()).toBe(Math.max(0, owed));
}

export function decline(played: Played): void {
  const { world, inOne, all } = played;
  const { app, finance } = world.t;
  const row = all(app.db.select().from(commissions).all());
  if (row)
    inOne(() => {
      declineCommission(app, finance, row.id, 'Own purchase');
    });
}
