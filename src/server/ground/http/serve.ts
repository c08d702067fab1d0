import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Static, TObject, TSchema } from '@sinclair/typebox';
import type { Request, Response } from 'express';
import { Nothing, type Endpoint } from '../../../contract/endpoint';
import type { FieldFault } from '../../../contract/explain';
import { type Role } from '../../../core/access/lists';
import type { Actor, App } from '../context';
import { JsonText } from '../ports';
import { readBytes, readJson } from './body';
import { keyedBy, once, onceThenRead } from './keyed';
import { perAddress } from './limits';
import { allFaults } from './mended';
import { refuse } from './problem';
import { insiders, outsiders, type Bounds } from './shape';
import type { Site } from './site';
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
  constructor(
    readonly name: string,
    readonly content: string,
  ) {}
}

/** An answer that comes by pieces, as long as somebody reads it. */
export class PiecesAnswer {
  constructor(
    readonly name: string,
    readonly pieces: AsyncGenerator<string>,
  ) {}
}

/** Sends what comes by pieces. What the first refuses is still an answer; whoever goes away ends the rest. */
async function sendPieces(
  app: App,
  res: Response,
  { name, pieces }: PiecesAnswer,
  media: string,
): Promise<void> {
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
    if (!(thrown instanceof Error && 'code' in thrown && thrown.code === 'ERR_STREAM_PREMATURE_CLOSE'))
      app.faults.note('stream', thrown);
    res.destroy();
  }
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
async function bodyOf(
  end: Endpoint<TObject, TObject, TSchema, TSchema>,
  req: Request,
  res: Response,
  more: (body: unknown, faults: FieldFault[]) => FieldFault[],
): Promise<unknown> {
  if (end.method !== 'POST' && end.method !== 'PUT') return null;
  if (end.upload !== undefined) {
    await readBytes(req, res, end.upload);
    if (!Buffer.isBuffer(req.body) || req.body.length === 0)
      throw refuse(
        'file',
        'The file is missing: send its bytes as application/octet-stream',
        'a picture or a document',
      );
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

type Asked<P extends TObject, Q extends TObject, B extends TSchema> = Input<Static<P>, Static<Q>, Static<B>>;

async function send(app: App, res: Response, end: { media?: string }, reply: unknown): Promise<void> {
  if (reply instanceof PiecesAnswer) await sendPieces(app, res, reply, end.media ?? 'text/plain');
  else if (reply instanceof FileAnswer) {
    res
      .set('content-disposition', `attachment; filename="${reply.name}"`)
      .type(end.media ?? 'text/plain')
      .send(reply.content);
  } else if (reply instanceof JsonText) res.type('json').send(reply.text);
  else res.json(reply ?? null);
}

interface Answering<I> {
  /** what is tried where the schema finds faults, and taken back */
  attempt: (input: I) => unknown;
  answer: (input: I) => unknown;
}

/** Listens for an endpoint: for open calls the address is counted first; then come role, what `first` asks, and only then is a body read and checked. */
function listen<P extends TObject, Q extends TObject, B extends TSchema, R extends TSchema>(
  { server, app }: Site,
  end: Endpoint<P, Q, B, R>,
  { first, tried = false }: Options,
  { attempt, answer }: Answering<Asked<P, Q, B>>,
): void {
  const before =
    end.access === 'open'
      ? [perAddress(end.perAddress ?? (end.method === 'GET' ? openCalls.read : openCalls.write))]
      : [];
  server[end.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'](
    end.path,
    ...before,
    async (req, res) => {
      await turn();
      const { actor, role } = app.who(end.access, req);
      first?.(req);
      const query = { ...(req.query as Record<string, unknown>) };
      validate(end.params, req.params);
      validate(end.query, query, { coerce: true });
      const inputOf = (body: unknown) => ({
        params: req.params as Static<P>,
        query: query as Static<Q>,
        body: body as Static<B>,
        actor,
        role,
        req,
        res,
      });
      const body = await bodyOf(end, req, res, (sent, faults) =>
        tried
          ? allFaults(app, { schema: end.body, value: sent, faults, work: (like) => attempt(inputOf(like)) })
          : faults,
      );
      await send(app, res, end, await answer(inputOf(body)));
    },
  );
}

/**
 * Serves an endpoint of the contract; where the contract says so, once for its key. A handler of an endpoint with `once` is synchronous and runs inside one
 * transaction.
 */
export function serve<P extends TObject, Q extends TObject, B extends TSchema, R extends TSchema>(
  site: Site,
  end: Endpoint<P, Q, B, R>,
  handle: (
    input: Asked<P, Q, B>,
  ) => Static<R> | FileAnswer | Promise<Static<R> | JsonText<Static<R>> | FileAnswer | PiecesAnswer>,
  options: Options = {},
): void {
  const { app } = site;
  const act = (input: Asked<P, Q, B>) => app.clock.during(() => handle(input));
  listen(site, end, options, {
    attempt: act,
    answer: (input) =>
      end.once ? once(app, keyedBy(app, input.req, input.actor, input.body), () => act(input)) : act(input),
  });
}

/** An act of which the serving thread only does the writing. */
interface Act<I, A, D, R> {
  /** what the act judges by, read beside the serving thread before it; it refuses nothing, since a repeated call asks it again */
  ahead?: (input: I) => Promise<A>;
  /** synchronous, inside one transaction; what it returns says what the answer is read of */
  act: (input: I, read: A | null) => D;
  reply: (done: D, input: I) => Promise<JsonText<R>>;
}

/** Serves an endpoint with `once` whose readings are heavy: only what it writes is done on the serving thread, once for its key. */
export function serveAct<P extends TObject, Q extends TObject, B extends TSchema, R extends TSchema, A, D>(
  site: Site,
  end: Endpoint<P, Q, B, R>,
  { ahead, act, reply }: Act<Asked<P, Q, B>, A, D, Static<R>>,
  options: Options = {},
): void {
  const { app } = site;
  listen(site, end, options, {
    attempt: (input) => app.clock.during(() => act(input, null)),
    answer: async (input) => {
      const keyed = keyedBy(app, input.req, input.actor, input.body);
      const read = ahead ? await ahead(input) : null;
      return onceThenRead(
        app,
        keyed,
        () => act(input, read),
        (done) => reply(done, input),
      );
    },
  });
}
