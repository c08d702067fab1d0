import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Static, TObject, TSchema } from '@sinclair/typebox';
import type { Express, Request, Response } from 'express';
import { and, eq } from 'drizzle-orm';
import type { Endpoint, Role } from '../../contract/endpoint';
import type { FieldFault } from '../../contract/explain';
import { Nothing } from '../../contract/endpoint';
import type { Actor, App } from '../context';
import { JsonText } from '../ports';
import { perApp } from '../db/prepared';
import { affiliates, answers } from '../db/schema';
import { record } from '../staff/audit';
import { readBytes, readJson } from './body';
import { perAddress } from './limits';
import { allFaults } from './mended';
import { Problem, refuse } from './problem';
import { affiliateOf, staffOf } from './session';
import type { Bounds } from './shape';
import { insiders, outsiders } from './shape';
import { turn } from './turns';
import { validate } from './validate';

export interface Input<P, Q, B> {
  params: P;
  query: Q;
  body: B;
  actor: Actor;
  role: Role | null;
  req: Request;
  res: Response;
}

/** An answer that is not JSON. */
export class FileAnswer {
  constructor(readonly name: string, readonly content: string) {}
}

/** An answer that comes by pieces, as long as somebody reads it. */
export class PiecesAnswer {
  constructor(readonly name: string, readonly pieces: AsyncGenerator<string>) {}
}

/** Sends what comes by pieces. What the first refuses is still an answer; whoever goes away ends the rest. */
async function sendPieces(app: App, res: Response, { name, pieces }: PiecesAnswer, media: string): Promise<void> {
  const first = await pieces.next();
  res.set('content-disposition', `attachment; filename="${name}"`).type(media);
  const all = async function* () {
    yield first.value as string;
    yield* pieces;
  };
  try {
    await pipeline(Readable.from(all()), res);
  } catch (thrown) {
    // cut off, so that nobody takes a part for the whole; of a reader who went away there is nothing to say
    if (!(thrown instanceof Error && 'code' in thrown && thrown.code === 'ERR_STREAM_PREMATURE_CLOSE')) app.faults.note('stream', thrown);
    res.destroy();
  }
}

/** Staff may look at the portal as one of the affiliates: reading only, and said so in each call. */
export const asHeader = 'x-gravenel-as';

/** One look at the portal is many calls: it is written down once an hour. */
const lookEvery = 3_600_000;
const looks = perApp(() => new Map<string, number>());

/** Writes into the audit who of the staff looked at whose portal. */
function noteLook(app: App, staff: string, affiliate: string): void {
  const now = app.clock.real();
  const key = `${staff} ${affiliate}`;
  if (now - (looks(app).get(key) ?? 0) < lookEvery) return;
  looks(app).set(key, now);
  record(app, { kind: 'staff', id: staff }, 'portal-looked-at', affiliate, null, null);
}

/** The affiliate as whom somebody of the staff looks; null where nobody does. @throws Problem `forbidden` for anything but reading */
export function seenAs(app: App, req: Request): string | null {
  const wanted = req.get(asHeader);
  if (wanted === undefined) return null;
  const person = staffOf(app, req);
  if (!person) throw new Problem('not-signed-in', 'Sign in at the desk to look at the portal as one of the affiliates');
  if (req.method !== 'GET') throw new Problem('forbidden', 'You look at the portal as an affiliate sees it: reading only. Nothing was changed.');
  const row = app.db.select({ id: affiliates.id }).from(affiliates).where(eq(affiliates.id, wanted)).get();
  if (!row) throw new Problem('not-found', 'This affiliate does not exist');
  noteLook(app, person.id, row.id);
  return row.id;
}

function actorOf(app: App, access: Endpoint<TObject, TObject, TSchema, TSchema>['access'], req: Request): { actor: Actor; role: Role | null } {
  if (access === 'open') return { actor: { kind: 'open', id: 'open' }, role: null };
  if (access === 'affiliate') {
    const seen = seenAs(app, req);
    if (seen) return { actor: { kind: 'affiliate', id: seen, looking: true }, role: null };
    const person = affiliateOf(app, req);
    if (!person) throw new Problem('not-signed-in', 'Sign in to the portal to go on; nothing you typed is lost');
    return { actor: { kind: 'affiliate', id: person.id }, role: null };
  }
  const person = staffOf(app, req);
  if (!person) throw new Problem('not-signed-in', 'Sign in to go on; nothing you typed is lost');
  if (!access.includes(person.role)) throw new Problem('forbidden', `The role ${person.role} cannot do this; it needs ${access.join(' or ')}`);
  return { actor: { kind: 'staff', id: person.id }, role: person.role };
}

function keyOf(req: Request): string {
  const key = req.get('idempotency-key');
  if (!key || key.length < 8 || key.length > 100) {
    throw refuse('Idempotency-Key', 'This call needs an Idempotency-Key header of 8 to 100 characters, a new one for each act', '5f0c2a9e-81d4');
  }
  return key;
}

/** Runs the work once for a key: the answer is kept in the same transaction as what the work wrote. */
function once(app: App, key: string, actor: Actor, call: string, bodyHash: string, work: () => unknown): unknown {
  return app.transaction(() => {
    const where = and(eq(answers.key, key), eq(answers.actor, actor.id), eq(answers.call, call));
    const before = app.db.select().from(answers).where(where).get();
    if (before) {
      if (before.bodyHash !== bodyHash) throw new Problem('key-reused', 'This Idempotency-Key was used for another request; take a new one');
      return JSON.parse(before.body) as unknown;
    }
    const reply = work();
    if (reply instanceof Promise) throw new TypeError(`${call} takes a key, so its work must be synchronous`);
    app.db.insert(answers).values({ key, actor: actor.id, call, bodyHash, status: 200, body: JSON.stringify(reply ?? null), at: app.clock.real() }).run();
    return reply;
  });
}

const kilo = 1024;
/** Bytes of a body by who sends it: nobody known, an affiliate, the desk. */
const bodies = { open: 64 * kilo, affiliate: 256 * kilo, staff: 1024 * kilo };
/** Calls of one address in ten minutes: reading is what pages do, writing what people do. */
const openCalls = { read: 20_000, write: 300 };

type Named = Pick<Endpoint<TObject, TObject, TSchema, TSchema>, 'access' | 'most'>;

function limitOf({ access, most }: Named): number {
  if (most !== undefined) return most;
  return access === 'open' ? bodies.open : access === 'affiliate' ? bodies.affiliate : bodies.staff;
}

const boundsOf = (access: Named['access']): Bounds => (typeof access === 'string' ? outsiders : insiders);

/** Reads and checks what came: role and state are known by now. */
async function bodyOf(end: Endpoint<TObject, TObject, TSchema, TSchema>, req: Request, res: Response, more: (body: unknown, faults: FieldFault[]) => FieldFault[]): Promise<unknown> {
  if (end.method !== 'POST' && end.method !== 'PUT') return null;
  if (end.upload !== undefined) {
    await readBytes(req, res, end.upload);
    if (!Buffer.isBuffer(req.body) || req.body.length === 0) throw refuse('file', 'The file is missing: send its bytes as application/octet-stream', 'a picture or a document');
    return null;
  }
  await readJson(req, res, limitOf(end));
  await turn();
  // an empty body, null and {} are the same where nothing is asked for
  if ((end.body as TSchema) === Nothing) return null;
  const body: unknown = req.body ?? null;
  validate(end.body, body, { bounds: boundsOf(end.access), more: (faults) => more(body, faults) });
  return body;
}

interface Options {
  /** throws where the state of things already says no, before a body is read */
  first?: (req: Request) => void;
  /** where the schema finds faults, the handler is tried on the rest and taken back, so that every fault is named at once; synchronous handlers only */
  tried?: boolean;
}

/**
 * Serves an endpoint of the contract. For open calls the address is counted first; then come role, what `first` asks, and only then is a body read and
 * checked and, where the contract says so, done once for its key. A handler of an endpoint with `once` is synchronous and runs inside one transaction.
 */
export function serve<P extends TObject, Q extends TObject, B extends TSchema, R extends TSchema>(
  server: Express, app: App, end: Endpoint<P, Q, B, R>,
  handle: (input: Input<Static<P>, Static<Q>, Static<B>>) => Static<R> | FileAnswer | Promise<Static<R> | JsonText<Static<R>> | FileAnswer | PiecesAnswer>, { first, tried = false }: Options = {},
): void {
  const before = end.access === 'open' ? [perAddress(end.perAddress ?? (end.method === 'GET' ? openCalls.read : openCalls.write))] : [];
  server[end.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'](end.path, ...before, async (req, res) => {
    await turn();
    const { actor, role } = actorOf(app, end.access, req);
    first?.(req);
    const query = { ...(req.query as Record<string, unknown>) };
    validate(end.params, req.params);
    validate(end.query, query, { coerce: true });
    const inputOf = (body: unknown) => ({ params: req.params as Static<P>, query: query as Static<Q>, body: body as Static<B>, actor, role, req, res });
    const body = await bodyOf(end, req, res, (sent, faults) => (tried ? allFaults(app, end.body, sent, faults, (like) => handle(inputOf(like))) : faults));
    const input = inputOf(body);
    const reply = end.once ? once(app, keyOf(req), actor, `${end.method} ${req.path}`, app.seal.digest(JSON.stringify(body)), () => handle(input)) : await handle(input);
    if (reply instanceof PiecesAnswer) await sendPieces(app, res, reply, end.media ?? 'text/plain');
    else if (reply instanceof FileAnswer) {
      res.set('content-disposition', `attachment; filename="${reply.name}"`).type(end.media ?? 'text/plain').send(reply.content);
    } else if (reply instanceof JsonText) res.type('json').send(reply.text);
    else res.json(reply ?? null);
  });
}
