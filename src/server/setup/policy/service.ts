import { diffWordsWithSpace } from 'diff';
import { and, asc, desc, eq, isNotNull, isNull, lte, or, sql, type SQL } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  editPolicy as Edit,
  listPolicies as List,
  readOwnPolicy as Own,
  readPolicy as Read,
  readPublicPolicy as ReadPublic,
} from '../../../contract/setup/policy';
import { formatDay } from '../../../core/calendar/format';
import { addZonedDays } from '../../../core/calendar/zone';
import { partnerKindList } from '../../../core/recruiting/kinds';
import {
  emptyPolicy,
  faultsOfPolicy,
  policyChanges,
  sectionsOf,
  type PolicyContent,
  type PolicySection,
} from '../../../core/recruiting/policy';
import { fillIn } from '../../../core/text/live';
import { touch } from '../../ground/cache';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp } from '../../ground/db/prepared';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { acceptances, policies } from '../../ground/tables/policy';
import { difference, record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { stale } from '../../registers/access/stale';
import { queue } from '../../registers/outbox/queue';
import { affiliateById } from '../../registers/people/record';
import { changeAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { filled, liveValues, type Reader } from '../terms/live';

export type PolicyRecord = typeof policies.$inferSelect;

export const latest = (app: App) =>
  app.db
    .select()
    .from(policies)
    .where(eq(policies.state, 'published'))
    .orderBy(desc(policies.number))
    .limit(1)
    .get() ?? null;
const draftOf = (app: App) => app.db.select().from(policies).where(eq(policies.state, 'draft')).get() ?? null;

/** The version that holds at a moment: the newest whose notice is over. Null before the first. */
export function policyInForce(app: App, at = app.clock.now()): PolicyRecord | null {
  return (
    app.db
      .select()
      .from(policies)
      .where(and(eq(policies.state, 'published'), lte(policies.holdsFrom, at)))
      .orderBy(desc(policies.number))
      .limit(1)
      .get() ?? null
  );
}

/** The published version before another, which its differences are shown against. */
const before = (app: App, of: PolicyRecord) =>
  app.db
    .select()
    .from(policies)
    .where(and(eq(policies.state, 'published'), sql`${policies.number} < ${of.number}`))
    .orderBy(desc(policies.number))
    .limit(1)
    .get() ?? null;

/** Sections with the rates of this moment in their texts, as one reader has them. */
function sectionsNow(app: App, content: PolicyContent, reader: Reader = null): PolicySection[] {
  return sectionsOf(content).map((s) => ({
    ...s,
    text: filled(app, s.text, reader),
    lines: s.lines.map((l) => filled(app, l, reader)),
  }));
}

const plain = (s: PolicySection | null) =>
  s === null
    ? ''
    : [
        ...s.facts.map((f) => `${f.text}: ${f.yes ? 'yes' : 'no'}`),
        ...s.lines,
        ...(s.text ? [s.text] : []),
      ].join('\n');

function changesOf(app: App, of: PolicyRecord): ReplyOf<typeof Read>['changes'] {
  const old = before(app, of);
  if (!old) return [];
  return policyChanges(old.content, of.content).map(({ key, title, before: was, after: is }) => ({
    key,
    title,
    parts: diffWordsWithSpace(plain(was), plain(is)).map((p) => ({
      text: p.value,
      mark: p.added ? ('added' as const) : p.removed ? ('removed' as const) : ('same' as const),
    })),
  }));
}

/** Affiliates who promote and are with us: those who have to accept. */
const bound = and(
  isNotNull(affiliates.joinedAt),
  eq(affiliates.promotes, true),
  or(eq(affiliates.state, 'active'), eq(affiliates.state, 'paused')),
);
/** Affiliates who owe their acceptance to the newest version; nobody before the first. */
export function owesAcceptance(app: App): SQL {
  const row = latest(app);
  return row ? and(bound, hasNot(row.number))! : sql`0`;
}

/** Has accepted neither this version nor a later one. */
const hasNot = (number: number) =>
  sql`NOT EXISTS (SELECT 1 FROM acceptances c JOIN policies v ON v.id = c.policy WHERE c.affiliate = ${affiliates.id} AND v.number >= ${number})`;

function facts(app: App, row: PolicyRecord): ReplyOf<typeof List>['rows'][number] {
  const now = app.clock.now();
  const accepted = app.db
    .select({ n: sql<number>`count(*)` })
    .from(acceptances)
    .where(eq(acceptances.policy, row.id))
    .get()!.n;
  const newest = latest(app)?.id === row.id;
  const outstanding = newest
    ? app.db
        .select({ n: sql<number>`count(*)` })
        .from(affiliates)
        .where(owesAcceptance(app))
        .get()!.n
    : 0;
  return {
    id: row.id,
    number: row.number,
    state: row.state,
    by: namesOf(app, [row.by])(row.by),
    createdAt: row.createdAt,
    publishedAt: row.publishedAt,
    holdsFrom: row.holdsFrom,
    version: row.version,
    accepted,
    outstanding,
    inNotice: row.holdsFrom !== null && row.holdsFrom > now,
    inForce: policyInForce(app)?.id === row.id,
  };
}

function whole(app: App, row: PolicyRecord): ReplyOf<typeof Read> {
  const sample =
    row.state === 'published' && latest(app)?.id === row.id
      ? app.db
          .select({ id: affiliates.id, name: affiliates.name })
          .from(affiliates)
          .where(owesAcceptance(app))
          .orderBy(asc(affiliates.name))
          .limit(12)
          .all()
      : [];
  return {
    ...facts(app, row),
    content: row.content,
    sections: sectionsNow(app, row.content),
    changes: changesOf(app, row),
    unacceptedSample: sample,
  };
}

function byId(app: App, id: string, version?: number): PolicyRecord {
  const row = app.db.select().from(policies).where(eq(policies.id, id)).get();
  if (!row) throw new Problem('not-found', 'This version of the policy does not exist');
  if (version !== undefined && row.version !== version)
    throw stale(app, row.id, 'the draft', whole(app, row));
  return row;
}

export function listPolicies(app: App): ReplyOf<typeof List> {
  return {
    rows: app.db
      .select()
      .from(policies)
      .orderBy(desc(policies.number))
      .all()
      .map((r) => facts(app, r)),
    live: liveValues(app),
    kinds: partnerKindList,
  };
}

export function readPolicy(app: App, id: string): ReplyOf<typeof Read> {
  return whole(app, byId(app, id));
}

/** Begins the next version from the last, or goes on with the draft there is. */
export function draftPolicy(app: App, actor: Actor): ReplyOf<typeof Read> {
  const open = draftOf(app);
  if (open) return whole(app, open);
  const last = latest(app);
  const { noticeWeeks, kindsWanted, kindsUnwanted } = theProgramme(app);
  const id = newId('policy');
  app.db
    .insert(policies)
    .values({
      id,
      number: (last?.number ?? 0) + 1,
      state: 'draft',
      content: last?.content ?? {
        ...emptyPolicy,
        noticeWeeks,
        accepted: kindsWanted,
        refused: kindsUnwanted,
      },
      createdAt: app.clock.now(),
      by: actor.id,
    })
    .run();
  record(app, actor, 'policy-drafted', {
    subject: id,
    before: null,
    after: { number: (last?.number ?? 0) + 1 },
  });
  return whole(app, byId(app, id));
}

const texts = ['general', 'search', 'counts', 'declined', 'branding', 'kinds', 'channels'] as const;

function check(app: App, content: PolicyContent): void {
  const values = liveValues(app);
  for (const field of texts) {
    const { unknown } = fillIn(content[field], values);
    if (unknown.length)
      throw refuse(
        field,
        `${unknown.join(', ')} cannot be filled in: known are the rate or price of a product by its code, {rate} and {window}`,
        '{rate WHEEL-1}',
      );
  }
  for (const field of ['accepted', 'refused'] as const) {
    const strange = content[field].filter((k) => !(partnerKindList as string[]).includes(k));
    if (strange.length)
      throw refuse(field, `Kinds: ${strange.join(', ').slice(0, 60)} is not in the list`, partnerKindList[0]);
  }
  const faults = faultsOfPolicy(content);
  if (faults.length)
    throw invalid(faults.map((f) => ({ pointer: `/${f.field}`, detail: f.detail, example: f.example })));
}

export function editPolicy(
  app: App,
  actor: Actor,
  id: string,
  { version, ...content }: BodyOf<typeof Edit>,
): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  if (row.state !== 'draft')
    throw new Problem(
      'conflict',
      `Version ${row.number} is published and stays as it is; draft the next one`,
    );
  check(app, content);
  const change = difference(row.content, content);
  app.db
    .update(policies)
    .set({ content, version: row.version + 1 })
    .where(eq(policies.id, id))
    .run();
  if (Object.keys(change.after).length)
    record(app, actor, 'policy-edited', {
      subject: id,
      before: null,
      after: {
        number: row.number,
        fields: Object.keys(change.after).join(', '),
      },
    });
  return whole(app, byId(app, id));
}

export function dropPolicy(app: App, actor: Actor, id: string): null {
  const row = byId(app, id);
  if (row.state !== 'draft')
    throw new Problem('conflict', `Version ${row.number} is published and cannot be thrown away`);
  app.db.delete(policies).where(eq(policies.id, id)).run();
  record(app, actor, 'policy-draft-dropped', { subject: id, before: { number: row.number }, after: null });
  return null;
}

const weekDays = 7;

/**
 * Publishes the draft. The first version holds at once; a later one after the notice that the version in force promises, and never before one that was
 * announced already: a shorter notice of a version whose own notice still runs is nobody's promise yet. Everybody
 * with us is told what changes and from when; whoever applies from now on ticks it, which counts once the person is known.
 */
export function publishPolicy(app: App, actor: Actor, id: string, version: number): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  if (row.state !== 'draft') throw new Problem('conflict', `Version ${row.number} is published already`);
  check(app, row.content);
  const last = latest(app);
  if (last && policyChanges(last.content, row.content).length === 0)
    throw new Problem(
      'conflict',
      `Nothing differs from version ${last.number}, so there is nothing to announce`,
    );
  const now = app.clock.now();
  const { name, zone, contact } = theProgramme(app);
  const holdsFrom = last
    ? Math.max(
        addZonedDays(now, (policyInForce(app) ?? last).content.noticeWeeks * weekDays, zone),
        last.holdsFrom ?? now,
      )
    : now;
  app.db
    .update(policies)
    .set({ state: 'published', publishedAt: now, holdsFrom, by: actor.id, version: row.version + 1 })
    .where(eq(policies.id, id))
    .run();
  changeProgramme(app, { kindsWanted: row.content.accepted, kindsUnwanted: row.content.refused });
  record(app, actor, 'policy-published', {
    subject: id,
    before: null,
    after: { number: row.number, from: holdsFrom },
  });
  const titles = changesOf(app, byId(app, id)).map((c) => c.title);
  const due = dueAt(app, byId(app, id));
  const ends = {
    remind: 'We will remind you then.',
    'hold-pay': 'Until you have accepted it, we cannot pay you from that day on.',
    pause: 'Until you have accepted it, your account is paused from that day on.',
  }[row.content.atEnd];
  for (const a of app.db
    .select({ id: affiliates.id, name: affiliates.name, email: affiliates.email })
    .from(affiliates)
    .where(bound)
    .all()) {
    queue(app, {
      to: a.email,
      affiliate: a.id,
      kind: 'policy',
      subject: last ? `Our terms change on ${formatDay(holdsFrom, zone)}` : `The terms of ${name}`,
      body: `Hello ${a.name},\n\n${last ? `from ${formatDay(holdsFrom, zone)} new terms hold. What changes: ${titles.join(', ')}.` : `these are our terms for affiliates. Please accept them by ${formatDay(due, zone)}.`} Read them, with the changes marked, and accept them here:\n${app.address}/portal/policy\n\n${ends}\n\nQuestions: ${contact}\n\n${name}`,
    });
  }
  touch(app, 'records');
  return whole(app, byId(app, id));
}

export function readPublicPolicy(app: App): ReplyOf<typeof ReadPublic> {
  const row = latest(app);
  return (
    row && {
      programme: theProgramme(app).name,
      number: row.number,
      holdsFrom: row.holdsFrom!,
      sections: sectionsNow(app, row.content),
    }
  );
}

export function readOwnPolicy(app: App, affiliate: string): ReplyOf<typeof Own> {
  const row = latest(app);
  if (!row) return { current: null };
  const own = app.db
    .select()
    .from(acceptances)
    .where(and(eq(acceptances.policy, row.id), eq(acceptances.affiliate, affiliate)))
    .get();
  return {
    current: {
      id: row.id,
      number: row.number,
      holdsFrom: row.holdsFrom!,
      sections: sectionsNow(app, row.content, { affiliate }),
      changes: changesOf(app, row),
      acceptedAt: own?.at ?? null,
      inNotice: dueAt(app, row) > app.clock.now(),
      atEnd: row.content.atEnd,
      due: dueAt(app, row),
    },
  };
}

/** The newest version and whether an affiliate has accepted it or when; null before the first. */
export function ownAcceptance(app: App, affiliate: string): { number: number; at: number | null } | null {
  const row = latest(app);
  return (
    row && {
      number: row.number,
      at:
        app.db
          .select({ at: acceptances.at })
          .from(acceptances)
          .where(and(eq(acceptances.policy, row.id), eq(acceptances.affiliate, affiliate)))
          .get()?.at ?? null,
    }
  );
}

/** Writes that an affiliate has accepted the newest version, if there is one. Call where it is known to be that person. */
export function noteAcceptance(app: App, affiliate: string): void {
  const row = latest(app);
  if (row)
    app.db
      .insert(acceptances)
      .values({ policy: row.id, affiliate, at: app.clock.now() })
      .onConflictDoNothing()
      .run();
}

/** An affiliate accepts; one that was paused for not doing so goes on. */
export function acceptPolicy(app: App, actor: Actor, id: string): ReplyOf<typeof Own> {
  const row = byId(app, id);
  if (row.state !== 'published' || latest(app)?.id !== id)
    throw new Problem('conflict', 'A newer version was published meanwhile; read it and accept that one');
  const done = app.db
    .insert(acceptances)
    .values({ policy: id, affiliate: actor.id, at: app.clock.now() })
    .onConflictDoNothing()
    .run();
  if (done.changes)
    record(app, actor, 'policy-accepted', {
      subject: id,
      before: null,
      after: { number: row.number, affiliate: actor.id },
    });
  const person = affiliateById(app, actor.id);
  if (person.state === 'paused' && person.pausedFor !== null) {
    changeAffiliate(app, person.id, { state: 'active', pausedFor: null });
    record(app, actor, 'affiliate-moved', {
      subject: person.id,
      before: { state: 'paused' },
      after: { state: 'active', reason: 'accepted the policy' },
    });
    touch(app, 'records');
  }
  return readOwnPolicy(app, actor.id);
}

/** The moment by which a version has to be accepted: the end of its notice; of the first, which holds at once, as long after it was published. */
function dueAt(app: App, row: PolicyRecord): number {
  return before(app, row)
    ? row.holdsFrom!
    : addZonedDays(row.publishedAt!, row.content.noticeWeeks * weekDays, theProgramme(app).zone);
}

const acceptedSince = perApp((app) =>
  app.sqlite.prepare<[string, number]>(
    'SELECT 1 FROM acceptances c JOIN policies v ON v.id = c.policy WHERE c.affiliate = ? AND v.number >= ?',
  ),
);

/** True where a payment has to wait because the policy in force was not accepted and says so. */
export function payWaitsFor(app: App): (affiliate: string) => boolean {
  const row = policyInForce(app);
  if (!row || row.content.atEnd !== 'hold-pay' || dueAt(app, row) > app.clock.now()) return () => false;
  return (affiliate) => acceptedSince(app).get(affiliate, row.number) === undefined;
}

/** Deals, once, with those who have not accepted a version whose notice is over: reminds them, or pauses them as it says. @returns how many */
export function closeNotice(app: App): number {
  const row = policyInForce(app);
  if (!row || row.closedAt !== null || dueAt(app, row) > app.clock.now()) return 0;
  const { name } = theProgramme(app);
  const late = app.db
    .select()
    .from(affiliates)
    .where(and(bound, hasNot(row.number)))
    .all();
  const { atEnd } = row.content;
  for (const a of late) {
    if (atEnd === 'pause' && a.state === 'active') {
      changeAffiliate(app, a.id, { state: 'paused', pausedFor: row.id });
      record(app, theClock, 'affiliate-moved', {
        subject: a.id,
        before: { state: 'active' },
        after: { state: 'paused', reason: `has not accepted version ${row.number} of the policy` },
      });
    }
    const said = {
      remind: 'They hold from today.',
      'hold-pay': 'They hold from today, and we cannot pay you until you have accepted them.',
      pause: 'They hold from today, and your account is paused until you have accepted them.',
    }[atEnd];
    queue(app, {
      to: a.email,
      affiliate: a.id,
      kind: 'policy-reminder',
      subject: `You have not accepted the terms of ${name} yet`,
      body: `Hello ${a.name},\n\nour terms changed and you have not accepted them yet. ${said}\n\n${app.address}/portal/policy\n\n${name}`,
    });
  }
  // those that were published before and never came into force on their own are done with as well
  app.db
    .update(policies)
    .set({ closedAt: app.clock.now() })
    .where(
      and(
        eq(policies.state, 'published'),
        isNull(policies.closedAt),
        sql`${policies.number} <= ${row.number}`,
      ),
    )
    .run();
  if (late.length) touch(app, 'records');
  return late.length;
}
