import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  createRule as Create,
  editRule as Edit,
  listRules as List,
} from '../../../contract/recruit/screening';
import { parsePercent, percentDigits } from '../../../core/money/percent';
import { isUsual, usualPractices } from '../../../core/recruiting/practices';
import {
  decidedBy,
  faultsOfRule,
  sentenceOf,
  type Conditions,
  type RuleOutcome,
  type ScreeningRule,
} from '../../../core/recruiting/rules';
import { isId, type Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { applications, screeningRules } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { detailsOf, isRecruiting } from '../../registers/catalogue/details';
import { productsInUse } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { practicesNow } from '../practices/meant';
import { prospectByMail } from '../prospects/copy';
import { decide } from './decide';
import { factsOf } from './evidence';

type RuleRecord = typeof screeningRules.$inferSelect;
export const theRules: Actor = { kind: 'open', id: 'rules' };
const theRegistryVouches: Actor = { kind: 'open', id: 'registry' };

/** The rules in the order in which they are tried. */
export function rulesInOrder(app: App): RuleRecord[] {
  return app.db
    .select()
    .from(screeningRules)
    .where(isNull(screeningRules.removedAt))
    .orderBy(asc(screeningRules.position), asc(screeningRules.id))
    .all();
}

/** Names of products and of practices, for sentences. */
export function namer(app: App): (id: string) => string {
  const names: ReadonlyMap<string, string> = new Map(
    app.db
      .select({ id: products.id, name: products.name })
      .from(products)
      .all()
      .map((p) => [p.id, p.name]),
  );
  const practices: ReadonlyMap<string, string> = new Map(practicesNow(app).table.map((p) => [p.key, p.name]));
  return (id) => {
    if (isUsual(id) || isId(id, 'practice'))
      return practices.get(id) ?? (isUsual(id) ? usualPractices[id].name : 'a practice that is gone');
    return names.get(id) ?? 'a product that is gone';
  };
}

export function listRules(app: App): ReplyOf<typeof List> {
  const name = namer(app);
  const decided = new Map(
    app.db
      .select({ id: sql<string>`json_extract(${applications.rule}, '$.id')`, n: sql<number>`count(*)` })
      .from(applications)
      .where(sql`${applications.rule} IS NOT NULL`)
      .groupBy(sql`1`)
      .all()
      .map((r) => [r.id, r.n]),
  );
  return {
    rules: rulesInOrder(app).map((r) => {
      const { refundsMost, ...rest } = r.conditions;
      return {
        id: r.id,
        sentence: sentenceOf(r, name),
        conditions: {
          ...rest,
          ...(refundsMost === undefined ? {} : { refundsMost: percentDigits(refundsMost) }),
        },
        outcome: r.outcome,
        on: r.on,
        decided: decided.get(r.id) ?? 0,
        version: r.version,
      };
    }),
    products: productsInUse(app).map((p) => ({
      id: p.id,
      name: p.name,
      screened: detailsOf(p).recruiting === 'screened',
    })),
    practices: practicesNow(app).table.map(({ key, name: called }) => ({ key, name: called })),
  };
}

/** @throws Problem `invalid` where the outcome does not say enough */
function readOutcome({ do: what, timing, reason }: BodyOf<typeof Create>['outcome']): RuleOutcome {
  switch (what) {
    case 'approve':
      if (!timing) throw refuse('timing', 'Timing is missing: at sale or after hold', 'after-hold');
      return { do: what, timing };
    case 'decline':
      return { do: what, reason: (reason ?? '').trim() };
    default:
      return { do: what };
  }
}

function read(app: App, input: BodyOf<typeof Create>): { conditions: Conditions; outcome: RuleOutcome } {
  const { refundsMost, ...rest } = input.conditions;
  const parsed =
    refundsMost === undefined ? null : parsePercent(refundsMost, 'no more than 100 % of sales come back');
  if (parsed && !parsed.ok)
    throw refuse('refundsMost', `Refund rate, at most: ${parsed.reason}`, parsed.example);
  const known = new Set(productsInUse(app).map((p) => p.id));
  if (rest.products?.some((p) => !known.has(p)))
    throw refuse('products', 'Products: one of them was retired or does not exist');
  const answered = new Set<string>(practicesNow(app).table.map((p) => p.key));
  if (rest.uses?.some((key) => !answered.has(key)))
    throw refuse('uses', 'Practices: one of them is not in the policy any more', [...answered][0]);
  const outcome = readOutcome(input.outcome);
  const rule = { conditions: { ...rest, ...(parsed ? { refundsMost: parsed.value } : {}) }, outcome };
  const faults = faultsOfRule(rule);
  if (faults.length)
    throw invalid(faults.map((f) => ({ pointer: `/${f.field}`, detail: f.detail, example: f.example })));
  return rule;
}

export function createRule(app: App, actor: Actor, input: BodyOf<typeof Create>): ReplyOf<typeof List> {
  const rule = read(app, input);
  const id = newId('rule');
  const last = app.db
    .select({ n: sql<number>`coalesce(max(${screeningRules.position}), 0)` })
    .from(screeningRules)
    .get()!.n;
  app.db
    .insert(screeningRules)
    .values({ id, position: last + 1, ...rule, createdAt: app.clock.now(), by: actor.id })
    .run();
  record(app, actor, 'rule-created', {
    subject: id,
    before: null,
    after: { rule: sentenceOf(rule, namer(app)) },
  });
  return listRules(app);
}

function existing(app: App, id: Id<'rule'>): RuleRecord {
  const row = app.db
    .select()
    .from(screeningRules)
    .where(and(eq(screeningRules.id, id), isNull(screeningRules.removedAt)))
    .get();
  if (!row) throw new Problem('not-found', 'This rule does not exist any more');
  return row;
}

export function editRule(
  app: App,
  actor: Actor,
  id: Id<'rule'>,
  input: BodyOf<typeof Edit>,
): ReplyOf<typeof List> {
  const row = existing(app, id);
  if (row.version !== input.version) throw stale(app, id, 'this rule', listRules(app));
  const rule = read(app, input);
  app.db
    .update(screeningRules)
    .set({ ...rule, on: input.on, version: row.version + 1 })
    .where(eq(screeningRules.id, id))
    .run();
  const words = (r: Pick<ScreeningRule, 'conditions' | 'outcome'>, on: boolean) => ({
    rule: sentenceOf(r, namer(app)),
    on: on ? 'yes' : 'no',
  });
  record(app, actor, 'rule-changed', {
    subject: id,
    before: words(row, row.on),
    after: words(rule, input.on),
  });
  return listRules(app);
}

export function removeRule(app: App, actor: Actor, id: Id<'rule'>): ReplyOf<typeof List> {
  const row = existing(app, id);
  app.db
    .update(screeningRules)
    .set({ removedAt: app.clock.now(), on: false })
    .where(eq(screeningRules.id, id))
    .run();
  record(app, actor, 'rule-removed', {
    subject: id,
    before: { rule: sentenceOf(row, namer(app)) },
    after: null,
  });
  return listRules(app);
}

export function orderRules(app: App, actor: Actor, ids: Id<'rule'>[]): ReplyOf<typeof List> {
  const known = rulesInOrder(app).map((r) => r.id);
  if (
    ids.length !== known.length ||
    new Set(ids).size !== ids.length ||
    ids.some((id) => !known.includes(id))
  )
    throw new Problem('stale', 'Rules were added or removed meanwhile; look again and repeat', {
      current: listRules(app),
    });
  ids.forEach((id, position) =>
    app.db
      .update(screeningRules)
      .set({ position: position + 1 })
      .where(eq(screeningRules.id, id))
      .run(),
  );
  record(app, actor, 'rules-ordered', { subject: 'programme', before: null, after: { rules: ids.length } });
  return listRules(app);
}

/** Whether rules may decide for a product; for the whole programme, where they may for everything that recruits. */
export function isScreened(app: App, product: Pick<typeof products.$inferSelect, 'details'> | null): boolean {
  if (product) return detailsOf(product).recruiting === 'screened';
  const open = productsInUse(app).filter(isRecruiting);
  return open.length > 0 && open.every((p) => detailsOf(p).recruiting === 'screened');
}

/** Lets the rules decide an application that has just arrived for a screened product. Who was blocked or has left waits for a person. @returns whether it was decided */
export function screen(app: App, id: Id<'application'>): boolean {
  const found = app.db
    .select({ a: applications, f: affiliates, p: products })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .leftJoin(products, eq(products.id, applications.product))
    .where(eq(applications.id, id))
    .get();
  if (!found || !isScreened(app, found.p) || (found.f.state !== 'applied' && found.f.state !== 'active'))
    return false;
  const facts = factsOf(app, found.a, found.f);
  const rule = decidedBy(rulesInOrder(app), facts);
  if (!rule) return false;
  app.db
    .update(applications)
    .set({ rule: { id: rule.id, sentence: sentenceOf(rule, namer(app)), facts } })
    .where(eq(applications.id, id))
    .run();
  if (rule.outcome.do === 'person') return false;
  const { decided } = decide(
    app,
    theRules,
    rule.outcome.do === 'approve'
      ? { ids: [id], decision: 'approve', timing: rule.outcome.timing, reason: '', message: true }
      : { ids: [id], decision: 'decline', reason: rule.outcome.reason, message: true },
  );
  return decided.length > 0;
}

/** Lets in whom the registry vouches for, after hold, where the programme wants that. @returns whether it was decided */
export function letInVouched(app: App, id: Id<'application'>): boolean {
  const found = app.db
    .select({ a: applications, f: affiliates })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .where(eq(applications.id, id))
    .get();
  const partner = found && theProgramme(app).vouchedIn ? prospectByMail(app, found.f.email) : null;
  if (!found || !partner || partner.vouched === '') return false;
  app.db
    .update(applications)
    .set({
      rule: {
        id: 'vouched',
        sentence: `The registry vouches for ${partner.name}: ${partner.vouched}`,
        facts: factsOf(app, found.a, found.f),
      },
    })
    .where(eq(applications.id, id))
    .run();
  return (
    decide(app, theRegistryVouches, {
      ids: [id],
      decision: 'approve',
      timing: 'after-hold',
      reason: '',
      message: true,
    }).decided.length > 0
  );
}
