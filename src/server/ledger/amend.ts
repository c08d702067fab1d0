import { and, eq, gt, inArray, lt, sql } from 'drizzle-orm';
import { writeOffs } from '../../core/ledger/commission';
import { correct, giveUp } from '../../core/ledger/entry';
import { formatMoney, parseAmount, toDecimal } from '../../core/money/amount';
import type { Id } from '../../core/text/id';
import { type Actor, type App } from '../ground/context';
import { newId } from '../ground/db/ids';
import { Problem, refuse } from '../ground/http/problem';
import { commissions } from '../ground/tables/ledger';
import { record } from '../registers/access/audit';
import { theProgramme } from '../registers/programme/record';
import { postEntry, standingOf } from './journal';
import { standingOfOthers, worthLeft } from './worth';

/**
 * Corrects a commission by a difference that a person gives. It cannot fall below nothing, nor rise above what is left of its order.
 */
export function correctCommission(
  app: App,
  actor: Actor,
  id: Id<'commission'>,
  input: { difference: string; reason: string },
) {
  const row = app.db.select().from(commissions).where(eq(commissions.id, id)).get();
  if (!row) throw new Problem('not-found', 'This commission does not exist');
  if (row.declined !== null) throw new Problem('conflict', `This commission was declined: ${row.declined}`);
  const { base } = theProgramme(app);
  const parsed = parseAmount(input.difference, base, { sign: true });
  if (!parsed.ok) throw refuse('difference', `Difference: ${parsed.reason}`, '-2.50');
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const left = row.held + row.cleared + row.inRun + row.paid;
  const worth = worthLeft(app, row.order);
  const others = standingOfOthers(app, row);
  if (parsed.value === 0) throw refuse('difference', 'Difference: nothing to correct', '-2.50');
  if (left + parsed.value < 0)
    throw refuse(
      'difference',
      `Difference: only ${say(left)} is left of this commission`,
      `-${toDecimal(left, base)}`,
    );
  if (parsed.value > 0 && left + others + parsed.value > worth)
    throw refuse(
      'difference',
      `Difference: with it ${others > 0 ? 'commission and shares' : 'the commission'} would exceed the ${say(worth)} left of the order`,
    );
  if (row.inRun !== 0)
    throw new Problem('conflict', 'This commission is in a payout run; take the run back to draft first');
  app.db
    .update(commissions)
    .set({ adjusted: row.adjusted + parsed.value })
    .where(eq(commissions.id, id))
    .run();
  const lines = correct(parsed.value, standingOf(row), { affiliate: row.affiliate, commission: id });
  postEntry(app, actor, {
    event: 'correction',
    lines,
    once: `correction:${id}:${newId('entry')}`,
    memo: `Corrected by ${say(parsed.value)}: ${input.reason}`,
    order: row.order,
  });
  record(app, actor, 'commission-corrected', {
    subject: id,
    before: { left: say(left) },
    after: { left: say(left + parsed.value), reason: input.reason, affiliate: row.affiliate },
  });
  const after = app.db.select().from(commissions).where(eq(commissions.id, id)).get()!;
  return { state: after.state, left: { amount: left + parsed.value, currency: base } };
}

/** Writes an affiliate's negative balance off: just so much that held and cleared together come to nothing. @throws Problem if the balance is not negative */
export function giveUpBalance(app: App, actor: Actor, affiliate: Id<'affiliate'>, reason: string): void {
  const { base } = theProgramme(app);
  const total = app.db
    .select({ n: sql<number>`coalesce(sum(${commissions.held} + ${commissions.cleared}), 0)` })
    .from(commissions)
    .where(eq(commissions.affiliate, affiliate))
    .get()!.n;
  if (total >= 0)
    throw new Problem(
      'conflict',
      `The balance is ${formatMoney({ amount: total, currency: base })}: only a negative one can be given up`,
    );
  const below = app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), lt(commissions.cleared, 0)))
    .orderBy(commissions.soldAt, commissions.id)
    .all();
  for (const { of: row, amount } of writeOffs(total, below)) {
    app.db
      .update(commissions)
      .set({ givenUp: row.givenUp + amount })
      .where(eq(commissions.id, row.id))
      .run();
    postEntry(app, actor, {
      event: 'given-up',
      lines: giveUp(amount, { affiliate, commission: row.id }),
      once: `given-up:${row.id}:${newId('entry')}`,
      memo: `Given up: ${reason}`,
      order: row.order,
    });
  }
  record(app, actor, 'balance-given-up', {
    subject: affiliate,
    before: { balance: formatMoney({ amount: total, currency: base }) },
    after: { reason },
  });
}

/**
 * Takes back what was written off of commissions whose payment failed or came back: the balance that was below zero for it
 * has the money again, and what was refunded is not paid a second time.
 * @param memo what happened to the payment
 */
export function takeBackWriteOffs(
  app: App,
  actor: Actor,
  { ids, memo }: { ids: readonly Id<'commission'>[]; memo: string },
): void {
  if (!ids.length) return;
  const rows = app.db
    .select()
    .from(commissions)
    .where(and(inArray(commissions.id, [...ids]), gt(commissions.givenUp, 0)))
    .all();
  for (const row of rows) {
    const amount = Math.min(row.givenUp, Math.max(0, row.cleared));
    if (amount === 0) continue;
    app.db
      .update(commissions)
      .set({ givenUp: row.givenUp - amount })
      .where(eq(commissions.id, row.id))
      .run();
    postEntry(app, actor, {
      event: 'given-up',
      lines: giveUp(-amount, { affiliate: row.affiliate, commission: row.id }),
      once: `given-up-back:${row.id}:${newId('entry')}`,
      memo: `Write-off taken back: ${memo}`,
      order: row.order,
    });
  }
}
