import { eq } from 'drizzle-orm';
import { beginOf, replaces, type Change } from '../../../core/terms/draft';
import { endAt } from '../../../core/terms/rate';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { drafts, rates } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { datedChanges } from './draft-store';
import { show } from './draft-view';
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
  const view = show(app, draft);
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

function carryOut(app: App, actor: Actor, draft: string, change: Change): number {
  const now = app.clock.now();
  switch (change.op) {
    case 'add': {
      const gone = theTerms(app).data.rates.filter((r) => replaces(change.rate, r));
      for (const r of gone)
        app.db
          .update(rates)
          .set({ until: change.rate.from, endedAt: now, endedBy: draft, endedFor: change.rate.id })
          .where(eq(rates.id, r.id))
          .run();
      if (gone.length) touch(app, 'terms');
      addRate(app, actor, change.rate, draft);
      const { reward, payments, cap, from, until } = change.rate;
      record(app, actor, 'rate-changed', {
        subject:
          change.rate.what.type === 'product' ? change.rate.what.product : (change.rate.who ?? 'programme'),
        before: { reward: gone[0]?.reward ?? null },
        after: { reward, payments, cap, from, until, who: change.rate.who },
      });
      return gone.length;
    }
    case 'end': {
      const rate = theTerms(app).data.rates.find((r) => r.id === change.id)!;
      app.db
        .update(rates)
        .set({ until: endAt(rate, change.at), endedAt: now, endedBy: actor.id, endedFor: null })
        .where(eq(rates.id, change.id))
        .run();
      record(app, actor, 'rate-ended', {
        subject: rate.what.type === 'product' ? rate.what.product : (rate.who ?? 'programme'),
        before: { reward: rate.reward, who: rate.who },
        after: { until: change.at },
      });
      touch(app, 'terms');
      return 1;
    }
    case 'lock':
      switchLock(app, actor, change.product, { event: change.event, on: change.on, at: change.at });
      record(app, actor, change.on ? 'product-locked' : 'product-unlocked', {
        subject: change.product,
        before: null,
        after: {
          event: change.event,
          from: change.at,
        },
      });
      return 0;
    case 'pause':
      switchPause(app, actor, change.group, { on: change.on, at: change.at });
      record(app, actor, change.on ? 'group-paused' : 'group-resumed', {
        subject: change.group,
        before: null,
        after: {
          from: change.at,
        },
      });
      return 0;
  }
}
