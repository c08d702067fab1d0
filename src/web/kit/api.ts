import type { AnyEndpoint, BodyOf, ParamsOf, QueryOf, ReplyOf } from '../../contract/endpoint';
import type { ProblemOut } from '../../contract/shared';
import { sent } from './sent-file';
import { askToSignIn } from './signed';

/** A refusal of the server, with the faults of the fields. */
export class Refused extends Error {
  constructor(readonly problem: ProblemOut) {
    super(problem.detail);
  }
}

export interface Given<E> {
  params?: ParamsOf<E>;
  query?: QueryOf<E>;
  body?: BodyOf<E>;
  /** of an endpoint that takes a file */
  file?: Blob;
  /** how much of the file has left, from 0 to 1 */
  onSent?: (share: number) => void;
  /** ends the call on its way */
  signal?: AbortSignal;
  /** of the act, so that a second click or a repeat after a lost answer does nothing twice */
  key?: string;
}

/** A new key for one act. */
export function newKey(): string {
  return crypto.randomUUID();
}

/** The address of an endpoint with its parameters filled in; for links to files too. */
export function addressOf(
  end: AnyEndpoint,
  params: Record<string, unknown> = {},
  query: Record<string, unknown> = {},
): string {
  const path = end.path.replace(/:([a-z]+)/g, (_, name: string) => encodeURIComponent(String(params[name])));
  const pairs = Object.entries(query)
    .filter(([, v]) => v !== undefined && v !== '')
    .map(([k, v]): [string, string] => [k, String(v)]);
  return pairs.length ? `${path}?${new URLSearchParams(pairs).toString()}` : path;
}

const unreachable: ProblemOut = {
  type: '',
  title: 'No answer',
  status: 0,
  code: 'unreachable',
  detail: 'Gravenel does not answer. What you typed is kept; try again in a moment.',
  errors: [],
};

let viewed: string | null = null;

/** From now on the portal is read as an affiliate sees it, by somebody of the staff; null = as oneself. */
export function viewAs(affiliate: string | null): void {
  viewed = affiliate;
}

interface Answered {
  ok: boolean;
  status: number;
  body: unknown;
}

function headersOf<E extends AnyEndpoint>(end: E, given: Given<E>, key: string): Record<string, string> {
  const type = given.file ? 'application/octet-stream' : given.body === undefined ? null : 'application/json';
  const asOther = viewed !== null && (end.access === 'affiliate' || end.path.startsWith('/api/v1/portal/'));
  return {
    ...(type === null ? {} : { 'content-type': type }),
    ...(end.once ? { 'idempotency-key': key } : {}),
    ...(asOther ? { 'x-gravenel-as': viewed! } : {}),
  };
}

async function once<E extends AnyEndpoint>(end: E, given: Given<E>, key: string): Promise<ReplyOf<E>> {
  const address = addressOf(
    end,
    given.params as Record<string, unknown>,
    given.query as Record<string, unknown>,
  );
  const { file, onSent, signal } = given;
  const asked = { method: end.method, headers: headersOf(end, given, key), ...(signal ? { signal } : {}) };
  let answer: Answered;
  try {
    answer = await (file && onSent
      ? sent(address, asked, file, onSent)
      : fetched(address, { ...asked, ...bodyOf(given) }));
  } catch {
    throw new Refused(unreachable);
  }
  const { ok, status, body } = answer;
  if (!ok) throw new Refused((body as ProblemOut | null) ?? { ...unreachable, status });
  return body as ReplyOf<E>;
}

const bodyOf = ({ file, body }: Given<AnyEndpoint>): { body?: Blob | string } =>
  file ? { body: file } : body === undefined ? {} : { body: JSON.stringify(body) };

async function fetched(address: string, asked: RequestInit): Promise<Answered> {
  const answer = await fetch(address, { ...asked, credentials: 'same-origin' });
  const body: unknown = await answer.json().catch(() => null);
  return { ok: answer.ok, status: answer.status, body };
}

/**
 * Calls an endpoint of the contract. A session that has ended asks for the password in place and goes on with the same call.
 * @throws Refused
 */
export async function call<E extends AnyEndpoint>(end: E, given: Given<E> = {}): Promise<ReplyOf<E>> {
  const key = given.key ?? newKey();
  try {
    return await once(end, given, key);
  } catch (fault) {
    const expired =
      fault instanceof Refused && fault.problem.code === 'not-signed-in' && !end.path.endsWith('/session');
    if (!expired) throw fault;
    await askToSignIn(end.access === 'affiliate' && viewed === null ? 'portal' : 'desk');
    return once(end, given, key);
  }
}
