import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { cached } from '../../ground/cache';
import type { App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { keys } from '../../ground/tables/connection';

const drift = 5 * 60_000;

/** A new secret of the Standard Webhooks form: whsec_ and 24 random bytes in base64. */
export function newSecret(): string {
  return `whsec_${randomBytes(24).toString('base64')}`;
}

/** The signature of a message: "v1," and HMAC-SHA256 over id, timestamp and raw body, base64. */
export function sign(secret: string, id: string, timestamp: string, body: string | Buffer): string {
  const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
  return `v1,${createHmac('sha256', key).update(`${id}.${timestamp}.`).update(body).digest('base64')}`;
}

export interface SignedHeaders {
  key: string | undefined;
  id: string | undefined;
  timestamp: string | undefined;
  signature: string | undefined;
}

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

/** A secret as it was given out. @throws Problem `unavailable` where the seal that closed it is gone */
export function openedSecret(app: App, key: string, sealed: string): string {
  try {
    return app.seal.open(sealed);
  } catch (cause) {
    throw new Problem(
      'unavailable',
      `The secret of the key ${key} cannot be read here: the seal that closed it (seal.key) was lost or replaced. Bring seal.key back from a backup, or make the secret of this key anew on the Connection page.`,
      { cause, retryAfter: 3600 },
    );
  }
}

const keyNamed = perApp((app) => rowsBy(app, keys, ['id']));

/** Secrets that were opened, by key. */
export const openedSecrets = cached('records', () => new Map<string, string[]>());

/** The secrets that are accepted for a key, opened once and kept; none for an unknown key. */
function secretsOf(app: App, key: string): string[] {
  const kept = openedSecrets(app).get(key);
  if (kept) return kept;
  const row = keyNamed(app).get(key);
  if (!row) return [];
  const secrets = [openedSecret(app, key, row.secret)];
  openedSecrets(app).set(key, secrets);
  return secrets;
}

const longestId = 100;

/**
 * Checks what can be checked before the body is read: every header is there, the key is known, the moment is near.
 * @throws Problem `not-signed` that says which header is missing or what does not fit
 */
export function checkHeaders(app: App, headers: SignedHeaders): void {
  const missing = [
    ['x-gravenel-key', headers.key],
    ['webhook-id', headers.id],
    ['webhook-timestamp', headers.timestamp],
    ['webhook-signature', headers.signature],
  ]
    .filter(([, value]) => !value)
    .map(([name]) => name);
  if (missing.length) throw new Problem('not-signed', `Missing header: ${missing.join(', ')}`);
  const { key = '', id = '', timestamp = '' } = headers;
  if (id.length > longestId)
    throw new Problem('not-signed', `webhook-id is too long: at most ${longestId} characters`);
  if (!secretsOf(app, key).length)
    throw new Problem(
      'not-signed',
      `The key ${key.slice(0, 40)} is not known here; the Connection page lists the keys`,
    );
  if (!/^\d{1,12}$/.test(timestamp))
    throw new Problem('not-signed', 'webhook-timestamp must be seconds since 1970, digits only');
  const off = app.clock.real() - Number(timestamp) * 1000;
  if (Math.abs(off) > drift)
    throw new Problem(
      'not-signed',
      `webhook-timestamp is ${Math.round(Math.abs(off) / 1000)} seconds ${off > 0 ? 'old' : 'ahead'}; at most 300 are accepted`,
    );
}

/** So many signatures of one header are tried: while a key is changed there are two. */
const mostSignatures = 5;

/**
 * Checks that a report was signed with a known key, lately by the machine's clock.
 * @throws Problem `not-signed` that says what does not fit
 */
export function checkSignature(app: App, headers: SignedHeaders, body: Buffer): { key: string; id: string } {
  checkHeaders(app, headers);
  const { key = '', id = '', timestamp = '', signature = '' } = headers;
  const given = signature.split(' ', mostSignatures);
  const fits = secretsOf(app, key).some((secret) => {
    const own = sign(secret, id, timestamp, body);
    return given.some((g) => same(g, own));
  });
  if (!fits)
    throw new Problem(
      'not-signed',
      'The signature does not fit: sign id, timestamp and the raw body, joined by dots, with the key’s secret',
    );
  return { key, id };
}
