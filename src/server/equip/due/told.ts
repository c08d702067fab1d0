import { desc } from 'drizzle-orm';
import { isId } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { plannedChanges } from '../../ground/tables/planned';
import type { Told } from '../../setup/terms/timeline';
import { couponSubject } from '../coupons/subject';
import { creativeSubject } from '../creatives/subject';
import type { PlannedRecord } from '../planned/store';
import type { Found } from '../planned/subject';

/** So many planned changes stand on the timeline, the latest first. */
const mostTold = 1000;

const states = { coming: 'coming', done: 'done', undone: 'undone', dropped: 'undone' } as const;

function toldOf(
  { id, subject, at, field, value, before, state, by, createdAt }: PlannedRecord,
  found: Found | null,
): Told {
  const isCoupon = isId(subject, 'coupon');
  const words = (is: unknown) => (found ? found.read(field, is) : '');
  const from = before ? `${words(before.is)} → ` : '→ ';
  return {
    id,
    kind: isCoupon ? 'coupon' : 'creative',
    place: found ? `${isCoupon ? 'coupon' : 'creative'} ${found.name}` : 'one that is gone',
    what: `${found ? found.called(field) : field}: ${from}${words(value.is)}`,
    from: at,
    until: null,
    state: states[state],
    by,
    at: createdAt,
  };
}

/** What is and was planned for creatives and coupons, as the timeline tells it. */
export function plannedTold(app: App): Told[] {
  const known = new Map<string, Found | null>();
  const foundOf = (subject: PlannedRecord['subject']): Found | null => {
    if (!known.has(subject))
      known.set(subject, creativeSubject.find(app, subject) ?? couponSubject.find(app, subject));
    return known.get(subject) ?? null;
  };
  return app.db
    .select()
    .from(plannedChanges)
    .orderBy(desc(plannedChanges.at), desc(plannedChanges.id))
    .limit(mostTold)
    .all()
    .map((row) => toldOf(row, foundOf(row.subject)));
}
