import { desc, eq, inArray } from 'drizzle-orm';
import { type RehearsalOfRules } from '../../../contract/recruit/screening';
import { decidedBy, sentenceOf } from '../../../core/recruiting/rules';
import { type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import { affiliates } from '../../ground/tables/people';
import { factsOf, recordOf } from './evidence';
import { namer, rulesInOrder } from './screening';

const mostChanges = 100;

/** So many applications are judged between two words of how far it is. */
const told = 50;

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

/** What an outcome would have made of an application. */
const wouldBe = { approve: 'approved', decline: 'declined', person: 'person' } as const;

/** Counts an application, how it was decided and how it turned out, in the row of the rule that would have decided. */
function count(
  row: Turned,
  a: Pick<typeof applications.$inferSelect, 'state'>,
  f: Pick<typeof affiliates.$inferSelect, 'state'>,
  since: { sales: number; refunds: number },
): void {
  row.total += 1;
  row[a.state as 'approved' | 'declined'] += 1;
  if (f.state !== 'applied') row[f.state] += 1;
  row.sales += since.sales;
  row.refunds += since.refunds;
}

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
    count(table.get(rule?.id ?? null)!, a, f, since);
    const would = rule ? wouldBe[rule.outcome.do] : 'person';
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
        rule: r.id as Id<'rule'> | null,
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

export type Turned = Omit<RehearsalOfRules['rows'][number], 'rule' | 'sentence'>;
