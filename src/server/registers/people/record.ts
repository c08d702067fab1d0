import { eq, sql } from 'drizzle-orm';
import { transferText } from '../../../core/payouts/characters';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';

export type AffiliateRecord = typeof affiliates.$inferSelect;

export const affiliateMaybe = (app: App, id: Id<'affiliate'>): AffiliateRecord | undefined =>
  app.db.select().from(affiliates).where(eq(affiliates.id, id)).get();

export function affiliateById(app: App, id: Id<'affiliate'>): AffiliateRecord {
  const row = affiliateMaybe(app, id);
  if (!row) throw new Problem('not-found', 'This affiliate does not exist');
  return row;
}

/** True if a bank transfer could be made to the affiliate. */
export function detailsComplete(
  row: Pick<AffiliateRecord, 'payeeHolder' | 'payeeIban' | 'payeeAddress'>,
): boolean {
  return (
    row.payeeHolder !== '' &&
    row.payeeIban !== '' &&
    row.payeeAddress !== '' &&
    transferText(row.payeeHolder).ok
  );
}

/** An account number with its middle hidden: PT50 …0154. */
export function maskedIban(iban: string): string {
  return iban === '' ? '' : `${iban.slice(0, 4)} … ${iban.slice(-4)}`;
}

/** How many affiliates are in each state. */
export function countByState(app: App): Record<string, number> {
  return Object.fromEntries(
    app.db
      .select({ state: affiliates.state, n: sql<number>`count(*)` })
      .from(affiliates)
      .where(eq(affiliates.promotes, true))
      .groupBy(affiliates.state)
      .all()
      .map((r) => [r.state, r.n]),
  );
}
