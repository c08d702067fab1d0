import { eq, isNull } from 'drizzle-orm';
import { addressKey } from '../../../core/recruiting/evidence';
import {
  bandKeys,
  bandsOfNearlySame,
  marked,
  nearlyTheSame,
  shinglesOf,
  type Part,
} from '../../../core/recruiting/notes';
import { type Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { applications } from '../../ground/tables/applications';
import { affiliates } from '../../ground/tables/people';
import { noteOfAffiliate } from '../../registers/people/write';

/** Notes of one band that are looked at, and candidates in all: whatever others wrote, one row costs no more. */
const perBand = 60;
export const mostCandidates = 60;

const statements = perApp((app) => ({
  put: app.sqlite.prepare(
    'INSERT INTO note_keys (band, note_key, application) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  ),
  near: app.sqlite.prepare<[number, number], { application: string }>(
    `SELECT application FROM note_keys WHERE band = ? AND note_key = ? LIMIT ${perBand}`,
  ),
  done: app.sqlite.prepare('UPDATE applications SET indexed = 1 WHERE id = ?'),
  others: app.sqlite.prepare<
    [string, string, number],
    Omit<Candidate, 'bandsShared'>
  >(`SELECT a.id, a.affiliate, f.name, a.state, a.created_at AS at FROM json_each(?) j JOIN applications a ON a.id = j.value
    JOIN affiliates f ON f.id = a.affiliate WHERE a.affiliate <> ? AND a.created_at <= ?`),
  note: app.sqlite.prepare<[string], { note: string }>('SELECT note FROM applications WHERE id = ?'),
}));

interface Cut {
  shingles: ReadonlySet<string>;
  keys: number[];
}
/** Notes whose cutting up is kept: those of a page of the queue are asked for again and again. */
const mostCut = 2000;
const kept = perApp(() => new Map<string, Cut>());

function cut(app: App, note: string): Cut {
  const known = kept(app).get(note);
  if (known) return known;
  const shingles = shinglesOf(note);
  const made = { shingles, keys: bandKeys(shingles) };
  if (kept(app).size >= mostCut) kept(app).clear();
  kept(app).set(note, made);
  return made;
}

/** Makes an application's note findable by those like it. */
export function indexNote(app: App, id: string, note: string): void {
  bandKeys(shinglesOf(note)).forEach((key, band) => {
    statements(app).put.run(band, key, id);
  });
  statements(app).done.run(id);
}

/** Indexes notes and addresses that came before there was an index of them. @returns how many */
export function indexNotes(app: App, most = 500): number {
  const people = app.db
    .select({ id: affiliates.id, address: affiliates.address })
    .from(affiliates)
    .where(isNull(affiliates.addressKey))
    .limit(most)
    .all();
  if (people.length)
    app.transaction(() =>
      people.forEach((p) => noteOfAffiliate(app, p.id, { addressKey: addressKey(p.address) })),
    );
  const rows = app.db
    .select({ id: applications.id, note: applications.note })
    .from(applications)
    .where(eq(applications.indexed, false))
    .limit(most)
    .all();
  if (rows.length) app.transaction(() => rows.forEach((r) => indexNote(app, r.id, r.note)));
  return rows.length + people.length;
}

export interface AlikeNote {
  application: Id<'application'>;
  affiliate: Id<'affiliate'>;
  name: string;
  state: string;
  at: number;
  /** percent, whole */
  likeness: number;
  note: string;
}

/** Other notes nearly the same as one: those that were compared, most alike first, and how many more there are by their keys. */
export interface Alike {
  like: AlikeNote[];
  more: number;
}

type Asked = { id: Id<'application'>; affiliate: Id<'affiliate'>; note: string };
interface Candidate {
  id: Id<'application'>;
  affiliate: Id<'affiliate'>;
  name: string;
  state: string;
  at: number;
  bandsShared: number;
}

/** Notes that share keys with one, those that share most first. What the same person wrote before is its own affair. */
function candidatesOf(app: App, asked: Asked, keys: readonly number[], until: number): Candidate[] {
  const shared = new Map<string, number>();
  keys.forEach((key, band) => {
    for (const r of statements(app).near.all(band, key))
      shared.set(r.application, (shared.get(r.application) ?? 0) + 1);
  });
  shared.delete(asked.id);
  const ids = [...shared]
    .sort(([, a], [, b]) => b - a)
    .slice(0, mostCandidates)
    .map(([id]) => id);
  if (!ids.length) return [];
  const rows = statements(app).others.all(JSON.stringify(ids), asked.affiliate, until);
  return rows
    .map((r) => ({ ...r, bandsShared: shared.get(r.id)! }))
    .sort((a, b) => b.bandsShared - a.bandsShared || b.at - a.at);
}

/**
 * Other applicants' notes that are nearly the same as one. A few are compared word by word; of the rest it is said by their keys how many there are.
 * @param compared how many are compared @param until what came later is left out
 */
export function alikeNotes(app: App, asked: Asked, compared = 5, until = app.clock.now()): Alike {
  const { shingles, keys } = cut(app, asked.note);
  const candidates = candidatesOf(app, asked, keys, until);
  const read = candidates
    .slice(0, compared)
    .map((c) => ({ of: c, note: statements(app).note.get(c.id)?.note ?? '' }));
  const noteOf = new Map(read.map((r) => [r.of.id, r.note]));
  return {
    like: nearlyTheSame(shingles, read).map(({ of: c, likeness }) => ({
      application: c.id,
      affiliate: c.affiliate,
      name: c.name,
      state: c.state,
      at: c.at,
      likeness: Math.round(likeness * 100),
      note: noteOf.get(c.id)!,
    })),
    more: candidates.slice(compared).filter((c) => c.bandsShared >= bandsOfNearlySame).length,
  };
}

/** Two notes side by side, cut into what both have and what only one has. */
export function sideBySide(note: string, other: string): { own: Part[]; theirs: Part[] } {
  return { own: marked(note, other), theirs: marked(other, note) };
}
