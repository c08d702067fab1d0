import { desc, eq } from 'drizzle-orm';
import type { RehearsalOfRules, RuleRehearsalOut } from '../../../contract/recruit/screening';
import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import type { Work } from '../../ground/ports';
import { ruleRehearsals } from '../../ground/tables/applications';
import { applicationReadings } from './readings';
import { rulesInOrder } from './screening';

type Row = typeof ruleRehearsals.$inferSelect;
interface Running {
  id: Id<'rehearsal'>;
  done: number;
  total: number;
  work: Work<RehearsalOfRules>;
}
/** One at a time, whoever asked for it. */
const running = perApp(() => ({ now: null as Running | null }));

/** The rules as a text that changes with any of them. */
const stampOf = (app: App) =>
  rulesInOrder(app)
    .map((r) => `${r.id} ${r.version}`)
    .join();

function show(app: App, row: Row): RuleRehearsalOut {
  const { now } = running(app);
  const own = now?.id === row.id ? now : null;
  // what was running when the server stopped is running nowhere now
  const state = row.state === 'running' && !own ? ('failed' as const) : row.state;
  return {
    id: row.id,
    at: row.at,
    state,
    done: own?.done ?? row.done,
    total: own?.total ?? row.total,
    tookMs: row.tookMs,
    outdated: row.rules !== stampOf(app),
    result: state === 'done' ? (row.result as RehearsalOfRules) : null,
  };
}

/** The last rehearsal of the rules, under way or ended; null where there was none. */
export function lastRehearsal(app: App): RuleRehearsalOut | null {
  const row = app.db
    .select()
    .from(ruleRehearsals)
    .orderBy(desc(ruleRehearsals.at), desc(ruleRehearsals.id))
    .limit(1)
    .get();
  return row ? show(app, row) : null;
}

/** Begins to judge the past by the rules as they are. One that is under way with the same rules goes on; of others it takes the place. */
export function startRuleRehearsal(app: App, actor: Actor): RuleRehearsalOut {
  const rules = stampOf(app);
  if (rules === '') throw new Problem('conflict', 'There is no rule to rehearse: add one first');
  const last = lastRehearsal(app);
  if (last?.state === 'running' && !last.outdated) return last;
  cancelRuleRehearsal(app);
  const id = newId('rehearsal');
  const began = app.clock.real();
  app.db
    .insert(ruleRehearsals)
    .values({ id, by: actor.id, at: app.clock.now(), rules, state: 'running' })
    .run();
  const work = app.reader.work(applicationReadings.rehearseRules, {}, (done, total) => {
    const { now } = running(app);
    if (now?.id === id) Object.assign(now, { done, total });
  });
  running(app).now = { id, done: 0, total: 0, work };
  const end = (set: Partial<Row>) => {
    const { now } = running(app);
    // where the server ends meanwhile, the row says that it was under way
    if (now?.id !== id || !app.sqlite.open) return;
    running(app).now = null;
    app.db
      .update(ruleRehearsals)
      .set({ done: now.done, total: now.total, tookMs: app.clock.real() - began, ...set })
      .where(eq(ruleRehearsals.id, id))
      .run();
  };
  work.result
    .then((result) => {
      end({ state: 'done', result });
    })
    .catch((fault: unknown) => {
      app.log.error({ err: fault, rehearsal: id }, 'a rehearsal of rules failed');
      end({ state: 'failed' });
    });
  return lastRehearsal(app)!;
}

/** Stops what is under way; what was found so far is dropped. */
export function cancelRuleRehearsal(app: App): RuleRehearsalOut | null {
  const { now } = running(app);
  if (now) {
    running(app).now = null;
    now.work.cancel();
    app.db
      .update(ruleRehearsals)
      .set({ state: 'cancelled', done: now.done, total: now.total })
      .where(eq(ruleRehearsals.id, now.id))
      .run();
  }
  return lastRehearsal(app);
}
