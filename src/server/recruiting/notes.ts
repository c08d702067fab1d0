import { and, eq, inArray, isNull, ne } from 'drizzle-orm';
import { addressKey } from '../../core/recruiting/evidence';
import type { Part } from '../../core/recruiting/notes';
import { bandKeys, marked, nearlyTheSame, shinglesOf } from '../../core/recruiting/notes';
import type { App } from '../context';
import { perApp } from '../db/prepared';
import { affiliates, applications } from '../db/schema';

const statements = perApp((app) => ({
  put: app.sqlite.prepare('INSERT INTO note_keys (band, note_key, application) VALUES (?, ?, ?) ON CONFLICT DO NOTHING'),
  near: app.sqlite.prepare<[number, number], { application: string }>('SELECT application FROM note_keys WHERE band = ? AND note_key = ?'),
  done: app.sqlite.prepare('UPDATE applications SET indexed = 1 WHERE id = ?'),
}));

/** Makes an application's note findable by those like it. */
export function indexNote(app: App, id: string, note: string): void {
  bandKeys(shinglesOf(note)).forEach((key, band) => { statements(app).put.run(band, key, id); });
  statements(app).done.run(id);
}

/** Indexes notes and addresses that came before there was an index of them. @returns how many */
export function indexNotes(app: App, most = 500): number {
  const people = app.db.select({ id: affiliates.id, address: affiliates.address }).from(affiliates).where(isNull(affiliates.addressKey)).limit(most).all();
  if (people.length) app.transaction(() => people.forEach((p) => app.db.update(affiliates).set({ addressKey: addressKey(p.address) }).where(eq(affiliates.id, p.id)).run()));
  const rows = app.db.select({ id: applications.id, note: applications.note }).from(applications).where(eq(applications.indexed, false)).limit(most).all();
  if (rows.length) app.transaction(() => rows.forEach((r) => indexNote(app, r.id, r.note)));
  return rows.length + people.length;
}

export interface AlikeNote {
  application: string;
  affiliate: string;
  name: string;
  state: string;
  at: number;
  /** percent, whole */
  likeness: number;
  note: string;
}

/** Other applicants' notes that are nearly the same as one, most alike first. What the same person wrote before is its own affair. */
export function alikeNotes(app: App, of: { id: string; affiliate: string; note: string }): AlikeNote[] {
  const shingles = shinglesOf(of.note);
  const near = new Set<string>();
  bandKeys(shingles).forEach((key, band) => { for (const r of statements(app).near.all(band, key)) near.add(r.application); });
  near.delete(of.id);
  if (!near.size) return [];
  const ids = [...near];
  const rows = [];
  for (let i = 0; i < ids.length; i += 500) {
    rows.push(...app.db.select({ id: applications.id, affiliate: applications.affiliate, name: affiliates.name, state: applications.state, at: applications.createdAt, note: applications.note }).from(applications)
      .innerJoin(affiliates, eq(affiliates.id, applications.affiliate)).where(and(inArray(applications.id, ids.slice(i, i + 500)), ne(applications.affiliate, of.affiliate))).all());
  }
  return nearlyTheSame(shingles, rows.map((r) => ({ of: r, note: r.note }))).map(({ of: r, likeness }) => ({ application: r.id, affiliate: r.affiliate, name: r.name, state: r.state, at: r.at, likeness: Math.round(likeness * 100), note: r.note }));
}

/** Two notes side by side, cut into what both have and what only one has. */
export function sideBySide(note: string, other: string): { own: Part[]; theirs: Part[] } {
  return { own: marked(note, other), theirs: marked(other, note) };
}
