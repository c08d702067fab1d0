import { eq, inArray, or, sql } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { previewImport as Preview, runImport as Run } from '../../../contract/recruit/roster';
import { emailKey } from '../../../core/recruiting/evidence';
import { partnerKindList } from '../../../core/recruiting/kinds';
import { faultOfLine, knownHeadings, type RosterLine } from '../../../core/recruiting/roster';
import { termsAt, type Roll } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { fromCsv } from '../../ground/http/csv';
import { refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { queue, withAccess } from '../../registers/outbox/queue';
import { handleFor } from '../../registers/people/names';
import { addAffiliate, changeAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { setsInUse, theTerms } from '../../setup/terms/store';
import { approve } from '../applications/approve';
import { placeInto } from '../prospects/joined';

type Affiliate = typeof affiliates.$inferSelect;
type Outcome = ReplyOf<typeof Preview>['lines'][number]['outcome'];
interface Judged {
  line: RosterLine;
  outcome: Outcome;
  why: string;
  known: Affiliate | null;
}
const mostLines = 20_000;
const mostShown = 300;

function read(text: string): { lines: RosterLine[]; faults: Map<number, string>; passed: string[] } {
  const { headings, rows, faults } = fromCsv(text);
  if (!rows.length) throw refuse('csv', 'List: there is no line below the heading', 'email,name,country');
  if (rows.length > mostLines)
    throw refuse(
      'csv',
      `List: at most ${mostLines.toLocaleString('en-GB')} lines at once, these are ${rows.length.toLocaleString('en-GB')}`,
      'half of it',
    );
  const { known, passed } = knownHeadings(headings);
  if (![...known.values()].some((f) => f === 'handle' || f === 'email'))
    throw refuse(
      'csv',
      'List: the heading names neither “handle” nor “email”, so nobody can be told apart',
      'email,name,country',
    );
  const lines = rows.map(({ line, cells }): RosterLine => {
    const l: RosterLine = {
      line,
      handle: '',
      email: '',
      name: '',
      country: '',
      site: '',
      group: '',
      tags: [],
      kind: '',
    };
    for (const [heading, field] of known) {
      const value = (cells[heading] ?? '').replace(/\s+/g, ' ').trim();
      if (field === 'tags')
        l.tags.push(
          ...value
            .split(/[;,|]/)
            .map((t) => t.trim())
            .filter(Boolean),
        );
      else if (field !== 'line') l[field] = value;
    }
    return l;
  });
  return { lines, faults: new Map(faults.map((f) => [f.line, f.said])), passed };
}

/** What lines are judged by: who is known by handle and address, which sets there are, who is where. */
interface Known {
  people: Map<string, Affiliate>;
  sets: Map<string, Id<'set'>>;
  roll: Roll;
  now: number;
}

function knownTo(app: App, lines: readonly RosterLine[]): Known {
  const keys = [
    ...new Set(lines.flatMap((l) => [l.handle.toLowerCase(), emailKey(l.email)]).filter(Boolean)),
  ];
  const people = new Map<string, Affiliate>();
  for (let i = 0; i < keys.length; i += 400) {
    const some = keys.slice(i, i + 400);
    for (const a of app.db
      .select()
      .from(affiliates)
      .where(or(inArray(sql`lower(${affiliates.handle})`, some), inArray(affiliates.emailKey, some)))
      .all()) {
      people.set(a.handle.toLowerCase(), a);
      people.set(a.emailKey, a);
    }
  }
  const sets = new Map(setsInUse(app).map((s) => [`${s.of} ${s.name.toLowerCase()}`, s.id]));
  return { people, sets, roll: theTerms(app).roll, now: app.clock.now() };
}

function whoIsMeant({ people }: Known, { handle, email }: RosterLine): Affiliate | null {
  return (handle && people.get(handle.toLowerCase())) || (email && people.get(emailKey(email))) || null;
}

/** True where handle and address are those of two people. */
function namesTwo({ people }: Known, { handle, email }: RosterLine, found: Affiliate | null): boolean {
  if (!handle || !email || !found) return false;
  const key = emailKey(email);
  return found.handle.toLowerCase() === handle.toLowerCase() && found.emailKey !== key && people.has(key);
}

const setsWanted = ({ group, tags }: RosterLine): string[] => [
  ...(group ? [`group ${group.toLowerCase()}`] : []),
  ...tags.map((t) => `tag ${t.toLowerCase()}`),
];

/** What is missing of somebody new, or null. */
function missingOfNew({ email, handle, name, country }: RosterLine): string | null {
  if (!email) return `nobody has the handle “${handle.slice(0, 40)}”`;
  if (!name) return 'is new, and has no name';
  return country ? null : 'is new, and has no country, such as PT';
}

/** The fields that a line would change of somebody we know. */
function changesOf({ sets, roll, now }: Known, l: RosterLine, found: Affiliate): string[] {
  const terms = termsAt(roll, found.id, now);
  const isLacking = (t: string) => !terms.tags.includes(sets.get(`tag ${t.toLowerCase()}`)!);
  const differs: Record<string, boolean> = {
    name: l.name !== '' && l.name !== found.name,
    country: l.country !== '' && l.country.toUpperCase() !== found.country,
    kind: l.kind !== '' && l.kind.toLowerCase() !== found.kind,
    site: l.site !== '' && !found.sites.includes(l.site),
    group: l.group !== '' && terms.group?.id !== sets.get(`group ${l.group.toLowerCase()}`),
    tags: l.tags.some(isLacking),
  };
  return Object.keys(differs).filter((field) => differs[field]);
}

/** Judges a line that can be read and names one person and sets that there are. */
function judgeGood(known: Known, line: RosterLine, found: Affiliate | null): Omit<Judged, 'line'> {
  if (!found) {
    const lacks = missingOfNew(line);
    if (lacks !== null) return { outcome: 'wrong', why: lacks, known: null };
    return { outcome: 'new', why: 'is let in, after hold', known: null };
  }
  if (found.state === 'blocked') return { outcome: 'wrong', why: `${found.name} is blocked`, known: null };
  const changes = changesOf(known, line, found);
  return { outcome: changes.length ? 'change' : 'same', why: changes.join(', '), known: found };
}

/** Judges lines as they stand: new, a change, the same, or wrong and why. */
function judge(
  app: App,
  lines: readonly RosterLine[],
  faults: ReadonlyMap<number, string>,
): { judged: Judged[]; missing: string[] } {
  const known = knownTo(app, lines);
  const missing = new Set<string>();
  const seen = new Map<string, number>();
  const judged = lines.map((line): Judged => {
    const wrong = (why: string): Judged => ({ line, outcome: 'wrong', why, known: null });
    const parse = faults.get(line.line);
    const fault = parse === undefined ? faultOfLine(line, partnerKindList) : `cannot be read: ${parse}`;
    if (fault) return wrong(fault);
    const found = whoIsMeant(known, line);
    const key = found?.id ?? emailKey(line.email);
    const first = seen.get(key);
    if (first !== undefined) return wrong(`stands on line ${first} already`);
    seen.set(key, line.line);
    if (namesTwo(known, line, found))
      return wrong('handle and e-mail address belong to two different affiliates');
    const gone = setsWanted(line).filter((w) => !known.sets.has(w));
    gone.forEach((g) => missing.add(g));
    if (gone.length) return wrong(`there is no ${gone.join(' and no ')}; make it first`);
    return { line, ...judgeGood(known, line, found) };
  });
  return { judged, missing: [...missing] };
}

const rank: Record<Outcome, number> = { wrong: 0, new: 1, change: 2, same: 3 };

export function previewImport(app: App, csv: string): ReplyOf<typeof Preview> {
  const { lines, faults, passed } = read(csv);
  const { judged, missing } = judge(app, lines, faults);
  const counts = { new: 0, change: 0, same: 0, wrong: 0 };
  for (const j of judged) counts[j.outcome] += 1;
  const shown = [...judged]
    .sort((a, b) => rank[a.outcome] - rank[b.outcome] || a.line.line - b.line.line)
    .slice(0, mostShown);
  return {
    total: judged.length,
    counts,
    passedHeadings: passed,
    missingSets: missing,
    lines: shown.map((j) => ({
      line: j.line.line,
      said: (j.line.handle || j.line.email || j.line.name).slice(0, 120),
      name: j.known?.name ?? j.line.name.slice(0, 120),
      outcome: j.outcome,
      why: j.why,
    })),
  };
}

/** Writes what a line says of somebody we know. */
function changeKnown(
  app: App,
  actor: Actor,
  { line: l, known }: Judged & { known: Affiliate },
  places: Places,
): void {
  const fields = {
    ...(l.name ? { name: l.name } : {}),
    ...(l.country ? { country: l.country.toUpperCase() } : {}),
    ...(l.kind ? { kind: l.kind.toLowerCase() } : {}),
    ...(l.site && !known.sites.includes(l.site) ? { sites: [...known.sites, l.site].slice(0, 10) } : {}),
  };
  changeAffiliate(app, known.id, fields);
  placeInto(app, known.id, places, true);
  record(app, actor, 'affiliate-read-in', {
    subject: known.id,
    before: null,
    after: { ...fields, sites: undefined },
  });
}

/** Lets somebody in whom a line names for the first time: after hold. */
function addNew(app: App, actor: Actor, l: RosterLine, places: Places): Affiliate {
  const id = newId('affiliate');
  addAffiliate(app, {
    id,
    handle: handleFor(app, l.handle || l.name),
    name: l.name,
    email: l.email,
    emailKey: emailKey(l.email),
    country: l.country.toUpperCase(),
    sites: l.site ? [l.site] : [],
    kind: l.kind.toLowerCase(),
    createdAt: app.clock.now(),
    addressKey: '',
  });
  const row = app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()!;
  approve(app, actor, row, { product: null, timing: 'after-hold' });
  placeInto(app, id, places);
  record(app, actor, 'affiliate-read-in', { subject: id, before: null, after: { name: l.name } });
  return row;
}

/** Ids of the group and tags that a line puts somebody into. */
type Places = (Id<'set'> | null)[];

/** Reads a piece of a list in: what was judged wrong is left out, the rest is written. The same piece again changes nothing. */
export function runImport(
  app: App,
  actor: Actor,
  { csv, from, most, tell }: BodyOf<typeof Run>,
): ReplyOf<typeof Run> {
  const { lines, faults } = read(csv);
  const { judged } = judge(app, lines, faults);
  const sets = new Map(setsInUse(app).map((s) => [`${s.of} ${s.name.toLowerCase()}`, s.id]));
  const counts = { added: 0, changed: 0, same: 0, wrong: 0 };
  for (const one of judged.slice(from, from + most)) {
    const { line, outcome, known } = one;
    if (outcome === 'wrong' || outcome === 'same') {
      counts[outcome] += 1;
      continue;
    }
    const places = setsWanted(line).map((w) => sets.get(w)!);
    if (known) {
      changeKnown(app, actor, { ...one, known }, places);
      counts.changed += 1;
    } else {
      const row = addNew(app, actor, line, places);
      if (tell) welcome(app, row);
      counts.added += 1;
    }
  }
  touch(app, 'records');
  return { ...counts, next: from + most < judged.length ? from + most : null };
}

function welcome(app: App, to: Affiliate): void {
  const { name, contact } = theProgramme(app);
  queue(app, {
    to: to.email,
    affiliate: to.id,
    kind: 'welcome',
    subject: `Welcome to ${name}`,
    body: withAccess(
      app,
      { password: null },
      `Hello ${to.name},\n\nyou are an affiliate of ${name} now. Your commissions are held until the refund window has passed.\n\n`,
      `\n\nYour tracking links wait for you in the portal. Questions: ${contact}\n\n${name}`,
    ),
  });
}
