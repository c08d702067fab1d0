import { and, eq, inArray, or, sql } from 'drizzle-orm';
import { formatPercent } from '../../../core/money/percent';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { changing, perApp, rowsBy } from '../../ground/db/prepared';
import { Problem, refuse } from '../../ground/http/problem';
import { applications, type BeforeApproval } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { productById } from '../../registers/catalogue/store';
import { queue, withAccess, withdraw } from '../../registers/outbox/queue';
import { openApproval, openApprovals, undoApproval } from '../../registers/people/approvals';
import { giveLinks } from '../../registers/people/links';
import { changeAffiliate, noteApproved } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { beginReferral, forgetReferral } from '../../setup/terms/referrals';
import { asksLeft } from '../allowance/allowance';
import { prospectLeft, takeAlong } from '../prospects/joined';
import { evidenceOf, recordOf, rowEvidence, tenureShort } from './evidence';
import { isOpen, openStates, questionsOf } from './questions';
import { dropTrust, giveTrust, trustOf } from './trust';
import { consequences, weakRecord } from './weigh';

type Timing = 'at-sale' | 'after-hold';
type State = typeof applications.$inferSelect.state;

/** Prepared: hundreds are decided at once. */
const statements = perApp((app) => ({
  application: rowsBy(app, applications, ['id']),
  affiliate: rowsBy(app, affiliates, ['id']),
  decide: changing(
    app,
    applications,
    ['state', 'timing', 'reason', 'before', 'decidedAt', 'decidedBy', 'version'],
    ['id'],
  ),
}));

/** Seconds in which a decision can be taken back; its message leaves after them. */
export const undoSeconds = () => Number(process.env.GRAVENEL_UNDO_SECONDS ?? 10);

const waitingKeys = { by: applications.createdAt, id: applications.id, order: 'asc' } as const;
const decidedKeys = { by: applications.createdAt, id: applications.id, order: 'desc' } as const;

export function listApplications(
  app: App,
  filter: { state?: State; q?: string; product?: string; after?: string; limit?: number },
) {
  const limit = filter.limit ?? 50;
  const keys = isOpen(filter.state ?? 'waiting') ? waitingKeys : decidedKeys;
  const pattern = filter.q ? anywhere(filter.q) : null;
  const found = app.db
    .select({ a: applications, f: affiliates, product: products.name })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .leftJoin(products, eq(products.id, applications.product))
    .where(
      and(
        eq(applications.state, filter.state ?? 'waiting'),
        filter.product ? eq(applications.product, filter.product) : undefined,
        pattern
          ? or(
              sql`${affiliates.name} LIKE ${pattern} ESCAPE '\\'`,
              sql`${affiliates.email} LIKE ${pattern} ESCAPE '\\'`,
              sql`${affiliates.sites} LIKE ${pattern} ESCAPE '\\'`,
            )
          : undefined,
        afterCursor(keys, filter.after),
      ),
    )
    .orderBy(...inOrder(keys))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.a.createdAt, r.a.id]);
  const counts = countApplications(app);
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

export function find(app: App, id: string) {
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

export function readApplication(app: App, id: string) {
  const { a, f, p } = find(app, id);
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
    asksLeft: asksLeft(app),
    ...consequences(app, f.id, p, evidence.refundRate),
    weak: weakRecord(evidence, evidence.line),
    trust: trustOf(app, f.id),
  };
}

/** Which rule decided, as it read then, and on which values. */
function ruleShown(rule: typeof applications.$inferSelect.rule) {
  if (!rule) return null;
  const { cleared, refundPpm, standing, tenureDays, country, note, alike } = rule.facts;
  const facts = [
    ['Cleared sales', String(cleared)],
    ['Refund rate', formatPercent(refundPpm)],
    ['Standing', standing === null ? 'no record yet' : String(standing)],
    ['Days as an affiliate', tenureDays === null ? 'none' : String(tenureDays)],
    ['Country', country],
    ['Note', !note ? 'none' : alike ? `nearly the same as ${alike}` : 'like no other'],
  ];
  return {
    sentence: rule.sentence,
    facts: facts.map(([label, value]) => ({ label: label!, value: value! })),
  };
}

/**
 * Approves an affiliate for a product, or for everything (null), from now on. Whom somebody has paused stays paused: an approval is no word about that.
 * @returns what it found, for taking it back
 */
export function approve(
  app: App,
  actor: Actor,
  affiliate: typeof affiliates.$inferSelect,
  { product, timing }: { product: string | null; timing: Timing },
): BeforeApproval {
  const now = app.clock.now();
  const replaced = openApproval(app, { affiliate: affiliate.id, product, timing, from: now });
  if (affiliate.joinedAt === null) beginReferral(app, actor, affiliate, now);
  const state = affiliate.state === 'paused' ? 'paused' : 'active';
  noteApproved(app, affiliate, { state, promotes: true, joinedAt: affiliate.joinedAt ?? now, timing });
  giveLinks(app, affiliate.id, product);
  if (affiliate.joinedAt === null) takeAlong(app, affiliate);
  return {
    state: affiliate.state,
    joinedAt: affiliate.joinedAt,
    promotes: affiliate.promotes,
    timing: affiliate.timing,
    approvals: replaced,
  };
}

interface Decision {
  ids: string[];
  decision: 'approve' | 'decline';
  timing?: Timing;
  reason: string;
  message: boolean;
  /** also for every later product */
  trust?: { until: string; atSale: boolean } | null;
}

/** Where nobody of ours has read the name, it is not said: it may be anybody's words to anybody's address. */
const greeting = (actor: Actor, f: { name: string; joinedAt: number | null }) =>
  actor.kind === 'staff' || f.joinedAt !== null ? `Hello ${f.name},` : 'Hello,';

/** Decides applications; those that somebody else decided meanwhile are passed over and named. */
export function decide(app: App, actor: Actor, input: Decision) {
  if (input.decision === 'approve' && !input.timing)
    throw refuse('timing', 'Timing is missing: at sale or after hold', 'after-hold');
  if (input.decision === 'decline' && input.reason.trim() === '')
    throw refuse(
      'reason',
      'Reason is empty: it is kept with the decision, and sent if you choose so',
      'Coupon sites are not part of this programme',
    );
  const { name, contact } = theProgramme(app);
  const decided: string[] = [];
  const passed: { id: string; why: string }[] = [];
  for (const id of new Set(input.ids)) {
    const a = statements(app).application.get(id);
    const f = a && statements(app).affiliate.get(a.affiliate);
    if (!a || !f) {
      passed.push({ id, why: 'does not exist' });
      continue;
    }
    const p = a.product === null ? undefined : productById(app, a.product);
    if (!isOpen(a.state)) {
      passed.push({ id, why: `was ${a.state} meanwhile` });
      continue;
    }
    if (f.state === 'blocked' && input.decision === 'approve') {
      passed.push({ id, why: `${f.name} is blocked` });
      continue;
    }
    const state = input.decision === 'approve' ? ('approved' as const) : ('declined' as const);
    const [timing, reason] = [input.timing ?? null, input.reason.trim() || null];
    // before anything that it brings about, which is taken back from this moment on
    const decidedAt = app.clock.now();
    record(app, actor, `application-${state}`, {
      subject: id,
      before: { state: a.state },
      after: { state, timing, reason, affiliate: f.id },
    });
    const before =
      state === 'approved'
        ? approve(app, actor, f, { product: p?.id ?? null, timing: input.timing! })
        : a.before;
    statements(app).decide.run(
      { state, timing, reason, before, decidedAt, decidedBy: actor.id, version: a.version + 1 },
      id,
    );
    const about = p ? p.name : 'the whole programme';
    if (state === 'approved') {
      if (input.trust) giveTrust(app, actor, f.id, input.trust);
      const when =
        input.timing === 'at-sale'
          ? 'Your commissions can be paid from the moment of the sale.'
          : 'Your commissions are held until the refund window has passed.';
      queue(app, {
        to: f.email,
        affiliate: f.id,
        kind: 'application-approved',
        subject: `Welcome to ${name}`,
        subjectOf: id,
        holdSeconds: undoSeconds(),
        body: withAccess(
          app,
          f,
          `${greeting(actor, f)}\n\nyou are approved for ${about}. ${when}\n\n`,
          `\n\nYour tracking links wait for you in the portal. Questions: ${contact}\n\n${name}`,
        ),
      });
    } else if (input.message) {
      queue(app, {
        to: f.email,
        affiliate: f.id,
        kind: 'application-declined',
        subject: `Your application to ${name}`,
        subjectOf: id,
        holdSeconds: undoSeconds(),
        body: `${greeting(actor, f)}\n\nthank you for applying for ${about}. We have decided against it:\n\n${input.reason.trim()}\n\n${name}`,
      });
    }
    decided.push(id);
  }
  touch(app, 'records');
  return { decided, passed };
}

/** Brings back what an approval found: the approvals it took the place of, and the affiliate as it was, but what somebody changed since. */
function takeApprovalBack(
  app: App,
  actor: Actor,
  a: typeof applications.$inferSelect,
  f: typeof affiliates.$inferSelect,
): void {
  const { before } = a;
  undoApproval(app, f.id, a.product, before?.approvals ?? []);
  const trust = trustOf(app, f.id);
  if (trust && trust.since >= (a.decidedAt ?? 0)) dropTrust(app, actor, f.id);
  if (!before) return;
  if (before.joinedAt === null) {
    // approved for something else meanwhile: it has joined by that
    if (openApprovals(app, f.id).length) return;
    forgetReferral(app, f.id, a.decidedAt ?? 0);
    prospectLeft(app, f.id);
  }
  const untouched = f.state === (before.state === 'paused' ? 'paused' : 'active');
  changeAffiliate(app, f.id, {
    ...(untouched ? { state: before.state } : {}),
    ...(f.timing === a.timing ? { timing: before.timing } : {}),
    joinedAt: before.joinedAt,
    promotes: before.promotes,
  });
}

/** Takes decisions back while their messages have not left: the approval ends as if it had not been. */
export function reopen(app: App, actor: Actor, ids: string[]) {
  const reopened: string[] = [];
  const passed: { id: string; why: string }[] = [];
  for (const id of new Set(ids)) {
    const { a, f } = find(app, id);
    if (a.state !== 'approved' && a.state !== 'declined') {
      passed.push({ id, why: `is ${a.state}` });
      continue;
    }
    if ((a.decidedAt ?? 0) < app.clock.now() - undoSeconds() * 1000 - 2000 || !withdraw(app, id)) {
      passed.push({ id, why: 'its message has left' });
      continue;
    }
    if (a.state === 'approved') takeApprovalBack(app, actor, a, f);
    // what was asked and is not answered is still awaited
    const state = questionsOf(app, id).some((q) => q.answer === null)
      ? ('asked' as const)
      : ('waiting' as const);
    app.db
      .update(applications)
      .set({
        state,
        timing: null,
        reason: null,
        decidedAt: null,
        decidedBy: null,
        before: null,
        version: a.version + 1,
      })
      .where(eq(applications.id, id))
      .run();
    record(app, actor, 'application-reopened', { subject: id, before: { state: a.state }, after: { state } });
    reopened.push(id);
  }
  touch(app, 'records');
  return { reopened, passed };
}

/** How many applications wait. */
export function countWaiting(app: App): { count: number; oldest: number | null } {
  const row = app.db
    .select({ count: sql<number>`count(*)`, oldest: sql<number | null>`min(${applications.createdAt})` })
    .from(applications)
    .where(eq(applications.state, 'waiting'))
    .get()!;
  return row;
}

/** Applications of an affiliate that wait, by what they are for. */
export function waitingOf(app: App, affiliate: string): string[] {
  return app.db
    .select({ name: products.name })
    .from(applications)
    .leftJoin(products, eq(products.id, applications.product))
    .where(and(eq(applications.affiliate, affiliate), inArray(applications.state, [...openStates])))
    .all()
    .map((r) => r.name ?? 'the whole programme');
}

/** How many applications are in each state. */
export function countApplications(app: App): Record<string, number> {
  return Object.fromEntries(
    app.db
      .select({ state: applications.state, n: sql<number>`count(*)` })
      .from(applications)
      .groupBy(applications.state)
      .all()
      .map((r) => [r.state, r.n]),
  );
}
