import { and, desc, eq } from 'drizzle-orm';
import { inForce } from '../../../core/calendar/span';
import { sameSlot } from '../../../core/terms/conflict';
import { type Change } from '../../../core/terms/draft';
import { type Rate } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { drafts } from '../../ground/tables/terms';
import { theTerms } from './store';

export type DraftRecord = typeof drafts.$inferSelect;

/** The open draft of a person, or null. */
export function openDraft(app: App, actor: Actor): DraftRecord | null {
  return (
    app.db
      .select()
      .from(drafts)
      .where(and(eq(drafts.by, actor.id), eq(drafts.state, 'open')))
      .orderBy(desc(drafts.createdAt))
      .get() ?? null
  );
}

/** When a draft begins, if it were saved now. */
export function beginOfDraft(app: App, draft: DraftRecord): number {
  return draft.from ?? app.clock.now();
}

/** The changes of a draft with their moments: what has no start of its own begins with the draft. */
export function datedChanges(app: App, draft: DraftRecord): Change[] {
  const begin = beginOfDraft(app, draft);
  return draft.changes.map(({ change, own }): Change => {
    if (own) return change;
    return change.op === 'add'
      ? { op: 'add', rate: { ...change.rate, from: begin } }
      : { ...change, at: begin };
  });
}

/** True for two rates of a draft of which the later takes the place of the earlier. */
const sameRatePlace = (a: Rate, b: Rate): boolean =>
  a.mode === b.mode &&
  sameSlot(a, b) &&
  a.from === b.from &&
  JSON.stringify(a.payments) === JSON.stringify(b.payments);

/** True for two changes of a draft of which the later takes the place of the earlier. */
export function samePlace(a: Change, b: Change): boolean {
  if (a.op === 'add') return b.op === 'add' && sameRatePlace(a.rate, b.rate);
  if (a.op === 'end') return b.op === 'end' && a.id === b.id;
  if (a.op === 'lock') return b.op === 'lock' && a.product === b.product && a.event === b.event;
  return b.op === 'pause' && a.group === b.group;
}

/** The rate that a draft's rate would take over from. */
export function expected(app: App, rate: Rate): Id<'rate'> | null {
  return (
    theTerms(app)
      .data.rates.filter(
        (r) => r.id !== rate.id && sameSlot(r, rate) && inForce(r, Math.max(rate.from, app.clock.now())),
      )
      .sort((a, b) => b.from - a.from)[0]?.id ?? null
  );
}
