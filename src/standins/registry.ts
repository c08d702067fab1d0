import { createServer, type Server } from 'node:http';
import express, { type Express } from 'express';
import type { OtherEntry, RegistryEntry, RegistryInvitation, RegistryPartner } from '../server/ground/ports';
import { escape, page } from './html';
import { addressOf, drawn, partnerAt, partnerCount } from './partners';
import { ownHostOnly } from './server';
import { readSwitch, setSwitch, type StandinDb } from './store';

const hour = 3_600_000;
const day = 24 * hour;
const pageSize = 500;

/** Partners that a programme knows already; they stand before the made-up crowd. */
export function listPartners(db: StandinDb, partners: RegistryPartner[]): void {
  const put = db.prepare(
    'INSERT INTO registry_own (id, partner) VALUES (?, ?) ON CONFLICT (id) DO UPDATE SET partner = excluded.partner',
  );
  db.transaction(() => partners.forEach((p) => put.run(p.id, JSON.stringify(p))))();
}

const ownPartners = (db: StandinDb) =>
  (db.prepare('SELECT partner FROM registry_own ORDER BY id').pluck().all() as string[]).map(
    (p) => JSON.parse(p) as RegistryPartner,
  );
/** How many partners are listed: 30,000, or fewer where a switch says so. */
const listedCount = (db: StandinDb) => Number(readSwitch(db, 'partners') || partnerCount);
const numberOf = (id: string) => Number(id.slice(2));

function partnerById(db: StandinDb, id: string): RegistryPartner | null {
  const own = db.prepare('SELECT partner FROM registry_own WHERE id = ?').pluck().get(id) as
    string | undefined;
  if (own) return JSON.parse(own) as RegistryPartner;
  const i = numberOf(id) - 100_001;
  return Number.isInteger(i) && i >= 0 && i < listedCount(db) - ownPartners(db).length ? partnerAt(i) : null;
}

/** A page of the list: own partners first, then the crowd. */
export function partnersPage(
  db: StandinDb,
  after: string | null,
  changedSince: number | null,
): { rows: RegistryPartner[]; next: string | null } {
  const own = ownPartners(db);
  const crowd = listedCount(db) - own.length;
  const from =
    after === null
      ? 0
      : own.some((p) => p.id === after)
        ? own.findIndex((p) => p.id === after) + 1
        : own.length + Math.max(0, numberOf(after) - 100_000);
  const end = Math.min(own.length + crowd, from + pageSize);
  const rows: RegistryPartner[] = [];
  for (let i = from; i < end; i += 1) rows.push(i < own.length ? own[i]! : partnerAt(i - own.length));
  return {
    rows: rows.filter((p) => changedSince === null || p.changedAt > changedSince),
    next:
      end < own.length + crowd
        ? end <= own.length
          ? own[end - 1]!.id
          : `P-${100_000 + end - own.length}`
        : null,
  };
}

interface Kept {
  ref: string;
  kind: 'invitation' | 'entry';
  at: number;
  data: string;
  state: string;
  said: number;
}

/** What a partner does with an invitation, and when, counted from the day it was sent. */
function answerOf(
  db: StandinDb,
  partner: number,
): { opens: number; answers: number; how: 'accepted' | 'declined' | 'silent' } {
  const set = readSwitch(db, 'registry-answers');
  const draw = drawn(partner, 90);
  const how =
    set === 'accept'
      ? 'accepted'
      : set === 'decline'
        ? 'declined'
        : set === 'silent'
          ? 'silent'
          : draw < 0.42
            ? 'accepted'
            : draw < 0.6
              ? 'declined'
              : 'silent';
  const opens = Math.floor((2 + drawn(partner, 91) * 30) * hour);
  return { opens, answers: opens + Math.floor((1 + drawn(partner, 92) * 90) * hour), how };
}

const questions = [
  'Which countries do you send to, and who pays when a parcel comes back?',
  'Your entry does not say how affiliates may use your name. May they bid on it?',
  'How long is the time in which a sale counts for the one who sent the buyer?',
];

/** What happens to something that is kept: an event of a moment, and the state it is in after that. */
interface Next {
  at: number;
  event: object;
  state: string;
}

/** What an invitation comes to next by a moment; null while nothing is due. */
function nextOfInvitation(db: StandinDb, kept: Kept, now: number): Next | null {
  const invitation = JSON.parse(kept.data) as RegistryInvitation;
  const partner = partnerById(db, invitation.partner);
  if (!partner) return null;
  const number = numberOf(partner.id);
  const { opens, answers, how } = answerOf(db, number);
  const due = (at: number) => now >= at && at < invitation.until;
  const event = { kind: 'invitation', invitation: kept.ref };
  const opensAt = kept.at + opens;
  const silent = how === 'silent' && drawn(number, 93) < 0.5;
  if (kept.state === 'new' && !silent && due(opensAt))
    return { at: opensAt, event: { ...event, state: 'opened' }, state: 'opened' };
  const answersAt = kept.at + answers;
  if (how !== 'silent' && kept.state === 'opened' && due(answersAt)) {
    const words =
      how === 'accepted'
        ? { email: addressOf(partner), note: `Thank you for writing. ${partner.intro}` }
        : {};
    return { at: answersAt, event: { ...event, state: how, ...words }, state: 'done' };
  }
  if (now < invitation.until) return null;
  return { at: invitation.until, event: { ...event, state: 'expired' }, state: 'done' };
}

const refusal = 'Entries need a landing page that says who the seller is. Mend it and submit again.';

/** What an entry in the catalogue comes to next: a reviewer asks once, a day after it came, and decides two days after the answer. */
function nextOfEntry(db: StandinDb, kept: Kept, now: number): Next | null {
  const set = readSwitch(db, 'registry-review');
  const event = { kind: 'entry', entry: kept.ref };
  const asksAt = kept.at + day;
  if (kept.state === 'new' && set !== 'list') {
    if (now < asksAt) return null;
    if (set === 'refuse')
      return { at: asksAt, event: { ...event, state: 'refused', text: refusal }, state: 'done' };
    const draw = drawn(kept.ref.length + kept.ref.charCodeAt(kept.ref.length - 1), 1);
    const text = questions[Math.floor(draw * questions.length)];
    return { at: asksAt, event: { ...event, state: 'question', text }, state: 'asked' };
  }
  const listsAt = kept.said + 2 * day;
  if (!['answered', 'new'].includes(kept.state) || now < listsAt) return null;
  const text = 'Listed. Thank you for the clear answer.';
  return { at: listsAt, event: { ...event, state: 'listed', text }, state: 'done' };
}

/** Makes what has become due an event. */
function comeDue(db: StandinDb, now: number): void {
  const put = db.prepare('INSERT INTO registry_events (at, data) VALUES (?, ?)');
  const move = db.prepare('UPDATE registry_kept SET state = ?, said = ? WHERE ref = ?');
  for (const kept of db.prepare("SELECT * FROM registry_kept WHERE state NOT IN ('done')").all() as Kept[]) {
    const nextOf = kept.kind === 'invitation' ? nextOfInvitation : nextOfEntry;
    // an invitation can be opened and answered since it was last looked at
    for (let next = nextOf(db, kept, now); next; next = nextOf(db, kept, now)) {
      put.run(next.at, JSON.stringify(next.event));
      move.run(next.state, now, kept.ref);
      if (kept.kind === 'entry' || next.state === 'done') break;
      kept.state = next.state;
    }
  }
}

/** What others offer in a category: made of its name, always the same. */
function othersOf(category: string): OtherEntry[] {
  const seed = [...category].reduce((sum, c) => (sum * 31 + c.charCodeAt(0)) & 0xffff, 7);
  return Array.from({ length: 9 }, (_, i) => {
    const { name } = partnerAt((seed + i * 977) % partnerCount);
    return {
      programme: `${name.replace(/^The /, '').split(' ').slice(0, 2).join(' ')} Supply`,
      headline: `${category}: ${['starter sets', 'yearly box', 'online course', 'tools', 'gift vouchers', 'materials', 'memberships', 'refills', 'books'][i]!}`,
      ratePpm: (4 + Math.floor(drawn(seed + i, 3) * 26)) * 10_000,
      epc: 300 + Math.floor(drawn(seed + i, 4) * 4200),
    };
  });
}

function calls(server: Express, db: StandinDb): void {
  const mode = () => readSwitch(db, 'registry-mode');
  let calls_ = 0;
  server.use('/registry/v1', express.json({ limit: '1mb' }), (_req, res, next) => {
    calls_ += 1;
    if (mode() === 'down' || (mode() === 'uneven' && calls_ % 3 === 0))
      return res.status(503).json({ said: 'The registry is being looked after; try again later' });
    if (mode() === 'slow') return setTimeout(next, 1500);
    return next();
  });
  const text = (value: unknown) => (typeof value === 'string' && value !== '' ? value : null);
  server.get('/registry/v1/partners', (req, res) => {
    res.json(
      partnersPage(
        db,
        text(req.query.after),
        text(req.query.changed_since) === null ? null : Number(req.query.changed_since),
      ),
    );
  });
  const keep = db.prepare(
    'INSERT INTO registry_kept (ref, kind, at, data, state, said) VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (ref) DO NOTHING',
  );
  server.post('/registry/v1/invitations', (req, res) => {
    const invitation = req.body as RegistryInvitation;
    if (!partnerById(db, invitation.partner))
      return res.status(404).json({ said: `There is no partner ${invitation.partner}` });
    keep.run(invitation.id, 'invitation', invitation.at, JSON.stringify(invitation), 'new', invitation.at);
    return res.status(201).json({ id: invitation.id });
  });
  server.post('/registry/v1/entries', (req, res) => {
    const entry = req.body as RegistryEntry;
    db.prepare(
      "INSERT INTO registry_kept (ref, kind, at, data, state, said) VALUES (?, 'entry', ?, ?, 'new', ?) ON CONFLICT (ref) DO UPDATE SET at = excluded.at, data = excluded.data, state = 'new', said = excluded.said",
    ).run(entry.id, entry.at, JSON.stringify(entry), entry.at);
    return res.status(201).json({ id: entry.id });
  });
  server.post('/registry/v1/entries/:id/answers', (req, res) => {
    const changed = db
      .prepare(
        "UPDATE registry_kept SET state = 'answered', said = ? WHERE ref = ? AND kind = 'entry' AND state = 'asked'",
      )
      .run((req.body as { at: number }).at, req.params.id).changes;
    return res.status(changed ? 201 : 200).json({ taken: changed === 1 });
  });
  server.get('/registry/v1/entries', (req, res) => {
    res.json(othersOf(text(req.query.category) ?? 'Other'));
  });
  server.get('/registry/v1/events', (req, res) => {
    comeDue(db, Number(req.query.at) || Date.now());
    const rows = db
      .prepare('SELECT number, at, data FROM registry_events WHERE number > ? ORDER BY number LIMIT 500')
      .all(Number(req.query.after) || 0) as { number: number; at: number; data: string }[];
    res.json(rows.map(({ number, at, data }) => ({ number, at, ...(JSON.parse(data) as object) })));
  });
}

const choices: [name: string, label: string, options: [string, string][]][] = [
  [
    'registry-mode',
    'The service',
    [
      ['', 'answers'],
      ['slow', 'answers after a while'],
      ['uneven', 'fails at every third call'],
      ['down', 'is down'],
    ],
  ],
  [
    'registry-answers',
    'Those invited',
    [
      ['', 'answer as they like'],
      ['accept', 'accept'],
      ['decline', 'decline'],
      ['silent', 'stay silent'],
    ],
  ],
  [
    'registry-review',
    'The reviewer',
    [
      ['', 'asks first'],
      ['list', 'lists at once'],
      ['refuse', 'refuses'],
    ],
  ],
];

function pages(server: Express, db: StandinDb): void {
  server.use(express.urlencoded({ extended: false, limit: '100kb' }));
  server.get('/', (_req, res) => {
    const kept = db.prepare('SELECT * FROM registry_kept ORDER BY at DESC LIMIT 100').all() as Kept[];
    res.send(
      page(
        'Registry',
        'What the registry does',
        `<form class="line" method="post" action="/switches">${choices.map(([name, label, options]) => `<label>${label} <select name="${name}">${options.map(([v, t]) => `<option value="${v}"${readSwitch(db, name) === v ? ' selected' : ''}>${t}</option>`).join('')}</select></label>`).join('')}<button class="q">Keep</button></form>
      <h2>Invitations and entries</h2><table><tr><th>Of<th>For<th>State</tr>${kept
        .map((k) => {
          const data = JSON.parse(k.data) as Partial<RegistryInvitation & RegistryEntry>;
          return `<tr><td>${escape(data.programme ?? '')}<td>${escape(data.partner ?? data.headline ?? '')}<td>${escape(k.state)}</tr>`;
        })
        .join('')}</table>${kept.length ? '' : '<p>None yet.</p>'}`,
      ),
    );
  });
  server.post('/switches', (req, res) => {
    for (const [name] of choices) setSwitch(db, name, (req.body as Record<string, string>)[name] ?? '');
    res.redirect(303, '/');
  });
}

/** The registry's own server, on its own port: partners, invitations, a catalogue with a reviewer. */
export function createRegistry(db: StandinDb): Server {
  const server = express();
  server.disable('x-powered-by');
  server.set('query parser', 'simple');
  server.use(ownHostOnly);
  calls(server, db);
  pages(server, db);
  server.use((_req, res) => {
    res.status(404).send(page('Registry', 'No such page', ''));
  });
  return createServer(server);
}
