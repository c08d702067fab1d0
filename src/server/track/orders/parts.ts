import { spentBy, type EarnedLine } from '../../../core/terms/spent';
import type { Working } from '../../../core/terms/working';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import type { NormalOrder } from './normalise';

interface PartRow {
  working: string | null;
  lefts: string;
}

const parts = (which: string) =>
  `SELECT o.working, (SELECT json_group_array(l.commission_left) FROM (SELECT commission_left FROM order_lines WHERE order_id = o.id ORDER BY position) l) AS lefts
   FROM orders o WHERE ${which} AND o.test = 0 AND o.payment <> ?`;

const statements = perApp((app) => ({
  ofOrder: app.sqlite.prepare<[string, string], PartRow>(parts("o.reference = ? AND o.event = 'sale'")),
  ofPlan: app.sqlite.prepare<[string, string], PartRow>(parts("o.subscription = ? AND o.event = 'renewal'")),
}));

function earnedIn({ working, lefts }: PartRow): EarnedLine[] {
  if (working === null) return [];
  const left = JSON.parse(lefts) as number[];
  return (JSON.parse(working) as Working).lines.map((line, i) => ({ working: line, left: left[i] ?? 0 }));
}

/**
 * What the earlier payments that make up the price of the same order earned under caps: of an order that is paid in
 * parts, and of instalments. A renewal of a subscription is an order of its own. Undefined where there are none.
 */
export function spentBefore(
  app: App,
  { event, number, reference, payment, subscription, lines }: NormalOrder,
): Map<string, number> | undefined {
  if (number <= 1) return undefined;
  const isPlan = lines.some((l) => l.product.kind === 'instalments');
  if (event === 'sale') return spentBy(statements(app).ofOrder.all(reference, payment).flatMap(earnedIn));
  if (event !== 'renewal' || !isPlan || subscription === null) return undefined;
  return spentBy(statements(app).ofPlan.all(subscription, payment).flatMap(earnedIn));
}
