import { asc, desc, eq, sql } from 'drizzle-orm';
import { type ReplyOf } from '../../../contract/endpoint';
import {
  type listPolicies as List,
  type readPolicy as Read,
  type readPublicPolicy as ReadPublic,
} from '../../../contract/setup/policy';
import { formatDay } from '../../../core/calendar/format';
import { partnerKindList } from '../../../core/recruiting/kinds';
import { carriedOver, sectionsOf, type PolicyContent } from '../../../core/recruiting/policy';
import { policyChanges } from '../../../core/recruiting/policy-changes';
import type { PolicyReader, PolicySection, PracticeShown } from '../../../core/recruiting/policy-reading';
import { answerWords } from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { acceptances, policies } from '../../ground/tables/policy';
import { namesOf } from '../../registers/access/names';
import { stale } from '../../registers/access/stale';
import { theProgramme } from '../../registers/programme/record';
import { filled, liveValues, type Reader } from '../terms/live';
import { affiliateReader, groupsInUse, staffReader } from './readers';
import {
  contentOf,
  latest,
  owesAcceptance,
  policyInForce,
  versionBefore,
  type PolicyRecord,
} from './versions';
import { wordChanges } from './word-changes';

type Changes = ReplyOf<typeof Read>['changes'];

/** Who reads a version: as whom it is worded, and whose rates stand in its words. */
interface Reading {
  reader: PolicyReader;
  rates: Reader;
}
const asStaff = (app: App): Reading => ({ reader: staffReader(app), rates: null });
export const asAffiliateReads = (app: App, affiliate: Id<'affiliate'>): Reading => ({
  reader: affiliateReader(app, affiliate),
  rates: { affiliate },
});

/** Sections with the rates of this moment in their texts, as one reader has them. */
export function sectionsNow(app: App, content: PolicyContent, { reader, rates }: Reading): PolicySection[] {
  const fill = (text: string) => filled(app, text, rates);
  return sectionsOf(content, reader).map((s) => ({
    ...s,
    practices: s.practices.map((p) => ({
      ...p,
      says: fill(p.says),
      otherwise: p.otherwise.map((o) => ({ ...o, says: fill(o.says) })),
    })),
    text: fill(s.text),
    lines: s.lines.map(fill),
  }));
}

const sectionAsText = (s: PolicySection | null) =>
  s === null
    ? ''
    : [
        ...s.facts.map((f) => `${f.text}: ${f.yes ? 'yes' : 'no'}`),
        ...s.lines,
        ...(s.text ? [s.text] : []),
      ].join('\n');

const practiceAsText = (p: PracticeShown | null) =>
  p === null
    ? ''
    : [
        ...(p.says ? [p.says] : []),
        ...p.otherwise.map((o) => `${o.who}: ${answerWords[o.answer]}${o.says ? `. ${o.says}` : ''}`),
      ].join('\n');

/** What differs between published versions is the same for all affiliates of one kind in one group: it is compared once. */
const compared = perApp(() => new Map<string, Changes>());
const mostCompared = 500;

/**
 * What differs from the version before.
 * @param fill fills the placeholders of a text for one reader; left out: as it was typed, with rates in braces
 */
export function changesOf(
  app: App,
  version: PolicyRecord,
  reader: PolicyReader,
  fill?: (text: string) => string,
): Changes {
  const old = versionBefore(app, version);
  if (!old) return { practices: [], sections: [] };
  // filled before it is compared: a placeholder is one word of the text then, and never cut in two
  if (fill) return compare(old, version, { reader, fill });
  if (version.state === 'draft' || reader.of === 'staff')
    return compare(old, version, { reader, fill: asTyped });
  const key = JSON.stringify([old.id, version.id, reader]);
  const known = compared(app).get(key);
  if (known) return known;
  if (compared(app).size >= mostCompared) compared(app).clear();
  const found = compare(old, version, { reader, fill: asTyped });
  compared(app).set(key, found);
  return found;
}

const asTyped = (text: string): string => text;

function compare(
  old: PolicyRecord,
  version: PolicyRecord,
  { reader, fill }: { reader: PolicyReader; fill: (text: string) => string },
): Changes {
  const { practices, sections } = policyChanges(old.content, contentOf(version), reader);
  return {
    practices: practices.map(({ key, name, before, after }) => ({
      key,
      name: before && after && before.name !== after.name ? `${before.name} → ${after.name}` : name,
      was: before?.answer ?? null,
      is: after?.answer ?? null,
      parts: wordChanges(fill(practiceAsText(before)), fill(practiceAsText(after))),
    })),
    sections: sections.map(({ key, title, before, after }) => ({
      key,
      title,
      parts: wordChanges(fill(sectionAsText(before)), fill(sectionAsText(after))),
    })),
  };
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
    closedAt: row.closedAt,
    closedFor: row.closedFor,
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
    content: carriedOver(row.content),
    sections: sectionsNow(app, contentOf(row), asStaff(app)),
    changes: changesOf(app, row, staffReader(app)),
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
    groups: groupsInUse(app),
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
      takesEffect: formatDay(row.holdsFrom!, theProgramme(app).zone),
      inForce: row.holdsFrom! <= app.clock.now(),
      sections: sectionsNow(app, row.content, { reader: { of: 'everybody' }, rates: null }),
    }
  );
}
