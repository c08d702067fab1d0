import { eq } from 'drizzle-orm';
import { endAt } from '../../../core/calendar/span';
import { beginOf, replaces, type Change } from '../../../core/terms/draft';
import { type Rate } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { drafts, rates } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { datedChanges } from './draft-store';
import { draftShown } from './draft-view';
import { current, switchLock } from './drafts';
import { addRate } from './service';
import { switchPause } from './sets';
import { theTerms } from './store';

/** Makes a draft count. @throws Problem `invalid` where something stands against it, naming each */
export function saveDraft(
  app: App,
  actor: Actor,
  version: number,
): { saved: number; from: number; last: number; replaced: number } {
  const draft = current(app, actor, version);
  const view = draftShown(app, draft);
  const faults = view.changes.flatMap((c) =>
    c.faults.map((f) => ({
      pointer: `/changes/${c.id}`,
      detail: `${c.place}: ${f.what}`,
      example: f.example,
    })),
  );
  if (!faults.length && !view.ready) {
    faults.push({
      pointer: '/from',
      detail: `${view.cuts === 1 ? 'A change cuts' : `${view.cuts} changes cut`} what somebody earns, and the programme promises ${view.noticeWeeks} ${view.noticeWeeks === 1 ? 'week' : 'weeks'} of notice: it cannot begin before then`,
      example: new Date(view.earliest!).toISOString().slice(0, 16),
    });
  }
  if (faults.length) throw new Problem('invalid', faults[0]!.detail, { errors: faults });
  const dated = datedChanges(app, draft);
  let replaced = 0;
  for (const change of dated) replaced += carryOut(app, actor, draft.id, change);
  app.db
    .update(drafts)
    .set({ state: 'saved', savedAt: app.clock.now(), version: draft.version + 1 })
    .where(eq(drafts.id, draft.id))
    .run();
  touch(app, 'terms');
  const begins = dated.map(beginOf);
  return { saved: dated.length, from: Math.min(...begins), last: Math.max(...begins), replaced };
}

type Of<Op extends Change['op']> = Extract<Change, { op: Op }>;

/** What a rate is about, for the audit. */
const subjectOf = ({ what, who }: Rate): string =>
  what.type === 'product' ? what.product : (who ?? 'programme');

function carryOutRate(app: App, actor: Actor, draft: Id<'draft'>, { rate }: Of<'add'>): number {
  const gone = theTerms(app).data.rates.filter((r) => replaces(rate, r));
  for (const r of gone)
    app.db
      .update(rates)
      .set({ until: rate.from, endedAt: app.clock.now(), endedBy: draft, endedFor: rate.id })
      .where(eq(rates.id, r.id))
      .run();
  if (gone.length) touch(app, 'terms');
  addRate(app, actor, rate, draft);
  const { reward, payments, cap, from, until, who } = rate;
  record(app, actor, 'rate-changed', {
    subject: subjectOf(rate),
    before: { reward: gone[0]?.reward ?? null },
    after: { reward, payments, cap, from, until, who },
  });
  return gone.length;
}

function carryOutEnd(app: App, actor: Actor, { id, at }: Of<'end'>): number {
  const rate = theTerms(app).data.rates.find((r) => r.id === id)!;
  app.db
    .update(rates)
    .set({ until: endAt(rate, at), endedAt: app.clock.now(), endedBy: actor.id, endedFor: null })
    .where(eq(rates.id, id))
    .run();
  record(app, actor, 'rate-ended', {
    subject: subjectOf(rate),
    before: { reward: rate.reward, who: rate.who },
    after: { until: at },
  });
  touch(app, 'terms');
  return 1;
}

function carryOutSwitch(app: App, actor: Actor, change: Of<'lock'> | Of<'pause'>): void {
  const { on, at } = change;
  if (change.op === 'lock') {
    const { product, event } = change;
    switchLock(app, actor, product, { event, on, at });
    record(app, actor, on ? 'product-locked' : 'product-unlocked', {
      subject: product,
      before: null,
      after: { event, from: at },
    });
  } else {
    switchPause(app, actor, change.group, { on, at });
    record(app, actor, on ? 'group-paused' : 'group-resumed', {
      subject: change.group,
      before: null,
      after: { from: at },
    });
  }
}

/** Carries a change out. @returns how many rates it took the place of, or ended */
function carryOut(app: App, actor: Actor, draft: Id<'draft'>, change: Change): number {
  if (change.op === 'add') return carryOutRate(app, actor, draft, change);
  if (change.op === 'end') return carryOutEnd(app, actor, change);
  carryOutSwitch(app, actor, change);
  return 0;
}
