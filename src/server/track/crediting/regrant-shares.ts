import { eq } from 'drizzle-orm';
import { type Actor, type App } from '../../ground/context';
import { shareLines } from '../../ground/tables/crediting';
import { regrant } from '../../ledger/regrant';
import { type ShareKind } from '../../ledger/share-names';
import {
  grantShare,
  keyOf,
  sharesIn,
  writeShareLines,
  type SharedLine,
  type SharedOrder,
  type ShareSum,
} from './shares';

/** Brings the shares of an order to what its lines come to now: those that were granted are corrected, new ones granted. Call inside the transaction. */
export function regrantShares(
  app: App,
  actor: Actor,
  { order, lines }: { order: SharedOrder; lines: readonly SharedLine[] },
  memo: string,
): void {
  app.db.delete(shareLines).where(eq(shareLines.order, order.id)).run();
  const sums = writeShareLines(app, order, lines);
  const none = sharesIn(app, order.id).map(({ kind, affiliate: payee }): [string, ShareSum] => {
    const gone: ShareSum = { kind: kind as ShareKind, payee, amount: 0 };
    return [keyOf(kind, payee), gone];
  });
  for (const share of new Map([...none, ...sums]).values()) {
    const { kind, payee: affiliate, amount: granted } = share;
    if (!regrant(app, actor, { order: order.id, kind, affiliate, granted, memo }))
      grantShare(app, actor, order, share);
  }
}
