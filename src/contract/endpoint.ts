import { Type, type Static, type TObject, type TSchema } from '@sinclair/typebox';
import { roles, type Role } from '../core/access/lists';

/** Who may call: anybody, a signed-in affiliate (own data only), or staff of these roles. */
export type Access = 'open' | 'affiliate' | readonly Role[];

export const readers: readonly Role[] = roles;
export const managing: readonly Role[] = ['owner', 'manager'];
export const paying: readonly Role[] = ['owner', 'finance'];
export const owning: readonly Role[] = ['owner'];

export type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';

/** One call of the interface: everything that crosses the boundary, once. */
export interface Endpoint<P extends TObject, Q extends TObject, B extends TSchema, R extends TSchema> {
  method: Method;
  /** Express form: /api/v1/products/:id */
  path: string;
  access: Access;
  summary: string;
  params: P;
  query: Q;
  body: B;
  reply: R;
  /** takes an Idempotency-Key: the same key and body again gets the same answer and does nothing */
  once: boolean;
  /** media type of the answer where it is not JSON */
  media?: string;
  /** takes so many bytes of a file as its body, as application/octet-stream */
  upload?: number;
  /** bytes of a body that is larger than bodies of such a caller are */
  most?: number;
  /** calls of one network address in ten minutes, where it is open to anybody */
  perAddress?: number;
}

export type AnyEndpoint = Endpoint<TObject, TObject, TSchema, TSchema>;
export type ParamsOf<E> = E extends Endpoint<infer P, TObject, TSchema, TSchema> ? Static<P> : never;
export type QueryOf<E> = E extends Endpoint<TObject, infer Q, TSchema, TSchema> ? Static<Q> : never;
export type BodyOf<E> = E extends Endpoint<TObject, TObject, infer B, TSchema> ? Static<B> : never;
export type ReplyOf<E> = E extends Endpoint<TObject, TObject, TSchema, infer R> ? Static<R> : never;

const none = Type.Object({}, { additionalProperties: false });
export const Nothing = Type.Null();

interface Parts<P, Q, B, R> {
  summary: string;
  access: Access;
  params?: P;
  query?: Q;
  body?: B;
  reply?: R;
  once?: boolean;
  media?: string;
  upload?: number;
  most?: number;
  perAddress?: number;
}

/** Declares an endpoint; what is left out is empty. */
export function endpoint<
  P extends TObject = typeof none,
  Q extends TObject = typeof none,
  B extends TSchema = typeof Nothing,
  R extends TSchema = typeof Nothing,
>(method: Method, path: string, parts: Parts<P, Q, B, R>): Endpoint<P, Q, B, R> {
  const { summary, access, once = false, media, upload, most, perAddress } = parts;
  return {
    method,
    path,
    summary,
    access,
    once,
    ...(media ? { media } : {}),
    ...(upload ? { upload } : {}),
    ...(most ? { most } : {}),
    ...(perAddress ? { perAddress } : {}),
    params: (parts.params ?? none) as P,
    query: (parts.query ?? none) as Q,
    body: (parts.body ?? Nothing) as B,
    reply: (parts.reply ?? Nothing) as R,
  };
}
