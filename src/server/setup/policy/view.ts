import { diffWordsWithSpace } from 'diff';
import { asc, desc, eq, sql } from 'drizzle-orm';
import { type ReplyOf } from '../../../contract/endpoint';
import {
  type listPolicies as List,
  type readPolicy as Read,
  type readPublicPolicy as ReadPublic,
} from '../../../contract/setup/policy';
import { partnerKindList } from '../../../core/recruiting/kinds';
import {
  policyChanges,
  sectionsOf,
  type PolicyContent,
  type PolicySection,
} from '../../../core/recruiting/policy';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { acceptances, policies } from '../../ground/tables/policy';
import { namesOf } from '../../registers/access/names';
import { stale } from '../../registers/access/stale';
import { theProgramme } from '../../registers/programme/record';
import { filled, liveValues, type Reader } from '../terms/live';
import { latest, owesAcceptance, policyInForce, versionBefore, type PolicyRecord } from './versions';

/** Sections with the rates of this moment in their texts, as one reader has them. */
export function sectionsNow(app: App, content: PolicyContent, reader: Reader = null): PolicySection[] {
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

export function changesOf(app: App, version: PolicyRecord): ReplyOf<typeof Read>['changes'] {
  const old = versionBefore(app, version);
  if (!old) return [];
  return policyChanges(old.content, version.content).map(({ key, title, before: was, after: is }) => ({
    key,
    title,
    parts: diffWordsWithSpace(plain(was), plain(is)).map((p) => ({
      text: p.value,
      mark: p.added ? ('added' as const) : p.removed ? ('removed' as const) : ('same' as const),
    })),
  }));
}

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

export function policyShown(app: App, row: PolicyRecord): ReplyOf<typeof Read> {
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

export function byId(app: App, id: Id<'policy'>, version?: number): PolicyRecord {
  const row = app.db.select().from(policies).where(eq(policies.id, id)).get();
  if (!row) throw new Problem('not-found', 'This version of the policy does not exist');
  if (version !== undefined && row.version !== version)
    throw stale(app, row.id, 'the draft', policyShown(app, row));
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

export function readPolicy(app: App, id: Id<'policy'>): ReplyOf<typeof Read> {
  return policyShown(app, byId(app, id));
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
