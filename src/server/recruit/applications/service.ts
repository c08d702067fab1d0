import { and, eq, or, sql, type SQL } from 'drizzle-orm';
import { formatPercent } from '../../../core/money/percent';
import { answerWords } from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { changing, perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { namesOf } from '../../registers/access/names';
import { asksLeft } from '../allowance/allowance';
import { wasAsked } from '../practices/meant';
import { practicesOfApplication } from '../practices/view';
import { countApplications } from './counts';
import { evidenceOf, recordOf, rowEvidence, tenureShort } from './evidence';
import { isOpen, questionsOf } from './questions';
import { trustOf } from './trust';
import { consequences, weakRecord } from './weigh';

type State = typeof applications.$inferSelect.state;

/** Prepared: hundreds are decided at once. */
export const statements = perApp((app) => ({
  application: rowsBy(app, applications, ['id']),
  affiliate: rowsBy(app, affiliates, ['id']),
  decide: changing(
    app,
    applications,
    ['state', 'timing', 'reason', 'before', 'decidedAt', 'decidedBy', 'version'],
    ['id'],
  ),
}));

const waitingKeys = { by: applications.createdAt, id: applications.id, order: 'asc' } as const;
const decidedKeys = { by: applications.createdAt, id: applications.id, order: 'desc' } as const;

/** What a filter asks for beside the state: counts by state are narrowed by it as the list is. */
function narrowedBy({ q, product }: { q?: string; product?: Id<'product'> }): SQL | undefined {
  const pattern = q ? anywhere(q) : null;
  return and(
    product ? eq(applications.product, product) : undefined,
    pattern
      ? or(
          sql`${affiliates.name} LIKE ${pattern} ESCAPE '\\'`,
          sql`${affiliates.email} LIKE ${pattern} ESCAPE '\\'`,
          sql`${affiliates.sites} LIKE ${pattern} ESCAPE '\\'`,
        )
      : undefined,
  );
}

export function listApplications(
  app: App,
  filter: { state?: State; q?: string; product?: Id<'product'>; after?: string; limit?: number },
) {
  const limit = filter.limit ?? 50;
  const keys = isOpen(filter.state ?? 'waiting') ? waitingKeys : decidedKeys;
  const narrowed = narrowedBy(filter);
  const found = app.db
    .select({ a: applications, f: affiliates, product: products.name })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .leftJoin(products, eq(products.id, applications.product))
    .where(and(eq(applications.state, filter.state ?? 'waiting'), narrowed, afterCursor(keys, filter.after)))
    .orderBy(...inOrder(keys))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.a.createdAt, r.a.id]);
  const counts = countApplications(app, narrowed);
  const rowOf = ({ a, f, product }: (typeof rows)[number]) => {
    const known = recordOf(app, f.id);
    return {
      id: a.id,
      affiliate: f.id,
      name: f.name,
      product,
      country: f.country,
      state: a.state,
      createdAt: a.createdAt,
      cleared: known.sales ? `${known.cleared} cleared` : 'no record yet',
      tenure: tenureShort(app, f),
      refundRate: known.sales ? known.refundRate : null,
      ...rowEvidence(app, a, f, known),
    };
  };
  return { next, counts, rows: rows.map(rowOf) };
}

export function applicationById(app: App, id: Id<'application'>) {
  const row = app.db
    .select({ a: applications, f: affiliates, p: products })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .leftJoin(products, eq(products.id, applications.product))
    .where(eq(applications.id, id))
    .get();
  if (!row) throw new Problem('not-found', 'This application does not exist');
  return row;
}

export function readApplication(app: App, id: Id<'application'>) {
  const { a, f, p } = applicationById(app, id);
  const evidence = evidenceOf(app, a, f);
  const name = namesOf(app, [a.decidedBy]);
  return {
    id: a.id,
    affiliate: f.id,
    name: f.name,
    email: f.email,
    country: f.country,
    address: f.address,
    sites: f.sites,
    channels: a.channels,
    note: a.note,
    product: p ? { id: p.id, code: p.code, name: p.name } : null,
    state: a.state,
    createdAt: a.createdAt,
    decidedAt: a.decidedAt,
    decidedBy: a.decidedBy === null ? null : name(a.decidedBy),
    reason: a.reason,
    timing: a.timing,
    evidence,
    rule: ruleShown(a.rule),
    questions: questionsOf(app, a.id),
    practices: practicesOfApplication(app, a, f),
    practicesAsked: wasAsked(app, a.id),
    asksLeft: asksLeft(app),
    ...consequences(app, f.id, p, evidence.refundRate),
    weak: weakRecord(evidence, evidence.line),
    trust: trustOf(app, f.id),
  };
}

/** Which rule decided, as it read then, and on which values. */
function ruleShown(rule: typeof applications.$inferSelect.rule) {
  if (!rule) return null;
  const { cleared, refundPpm, standing, tenureDays, country, note, alike, strictest } = rule.facts;
  const facts = [
    ['Cleared sales', String(cleared)],
    ['Refund rate', formatPercent(refundPpm)],
    ['Standing', standing === null ? 'no record yet' : String(standing)],
    ['Days as an affiliate', tenureDays === null ? 'none' : String(tenureDays)],
    ['Country', country],
    ['Note', !note ? 'none' : alike ? `nearly the same as ${alike}` : 'like no other'],
    ...(strictest ? [['Practices', `at the strictest: ${answerWords[strictest]}`]] : []),
  ];
  return {
    sentence: rule.sentence,
    facts: facts.map(([label, value]) => ({ label: label!, value: value! })),
  };
}
