import { desc, eq, inArray } from 'drizzle-orm';
import type { RehearsalOfRules, RuleRehearsalOut } from '../../../contract/recruit/screening';
import { decidedBy, sentenceOf } from '../../../core/recruiting/rules';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import type { Work } from '../../ground/ports';
import { affiliates, applications, ruleRehearsals } from '../../ground/tables';
import { factsOf, recordOf } from './evidence';
import { applicationReadings } from './readings';
import { namer, rulesInOrder } from './screening';

const mostChanges = 100;
/** So many applications are judged between two words of how far it is. */
const told = 50;

type Turned = Omit<RehearsalOfRules['rows'][number], 'rule' | 'sentence'>;
const nobody = (): Turned => ({
  total: 0,
  approved: 0,
  declined: 0,
  active: 0,
  paused: 0,
  ended: 0,
  blocked: 0,
  sales: 0,
  refunds: 0,
});

/** What the rules, as if all of them were on, would have done with every past application on what was known then, and how those turned out. Reads only. */
export function judgePast(
  app: App,
  _: object,
  progress: (done: number, total: number) => void = () => undefined,
): RehearsalOfRules {
  const rules = rulesInOrder(app).map((r) => ({ ...r, on: true }));
  const name = namer(app);
  const past = app.db
    .select({ a: applications, f: affiliates })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .where(inArray(applications.state, ['approved', 'declined']))
    .orderBy(desc(applications.createdAt), desc(applications.id))
    .all();
  const table = new Map<string | null, Turned>([
    ...rules.map((r): [string | null, Turned] => [r.id, nobody()]),
    [null, nobody()],
  ]);
  const changes: RehearsalOfRules['changes'] = [];
  for (const [i, { a, f }] of past.entries()) {
    if (i % told === 0) progress(i, past.length);
    const rule = decidedBy(rules, factsOf(app, a, f, a.createdAt));
    const since = factsNow(app, a, f);
    const row = table.get(rule?.id ?? null)!;
    row.total += 1;
    row[a.state as 'approved' | 'declined'] += 1;
    if (f.state === 'active' || f.state === 'paused' || f.state === 'ended' || f.state === 'blocked')
      row[f.state] += 1;
    row.sales += since.sales;
    row.refunds += since.refunds;
    const would =
      rule === null || rule.outcome.do === 'person'
        ? 'person'
        : rule.outcome.do === 'approve'
          ? 'approved'
          : 'declined';
    if (would !== 'person' && would !== a.state && changes.length < mostChanges)
      changes.push({
        application: a.id,
        affiliate: f.id,
        name: f.name,
        at: a.createdAt,
        decided: a.state,
        would,
        rule: rule!.id,
        now: f.state,
        ...since,
      });
  }
  progress(past.length, past.length);
  return {
    applications: past.length,
    changes,
    changesMost: mostChanges,
    rows: [
      ...rules.map((r) => ({
        rule: r.id as string | null,
        sentence: sentenceOf(r, name),
        ...table.get(r.id)!,
      })),
      { rule: null, sentence: 'No rule: a person decides', ...table.get(null)! },
    ],
  };
}

function factsNow(
  app: App,
  a: typeof applications.$inferSelect,
  f: typeof affiliates.$inferSelect,
): { sales: number; refunds: number } {
  const known = recordOf(app, f.id);
  return a.state === 'approved' ? { sales: known.sales, refunds: known.refunded } : { sales: 0, refunds: 0 };
}

type Row = typeof ruleRehearsals.$inferSelect;
interface Running {
  id: string;
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
