import type { TSchema } from '@sinclair/typebox';
import { endpoints } from '../../../contract';
import { signedCalls } from '../../../contract/track/signed-calls';
import { compileAhead } from './validate';

/** Compiles what shops are checked by: it is asked for from the first moment on. */
export function compileSignedCalls(): void {
  for (const { body } of Object.values(signedCalls)) compileAhead(body);
}

/**
 * Compiles every other schema that a call is checked by, which takes half a second in all: one in each turn, so that whoever is served
 * meanwhile waits for one at most, and nobody's first call waits for its own.
 */
export async function compileContract(): Promise<void> {
  const schemas: [TSchema, { coerce: boolean }][] = endpoints.flatMap(([, { params, query, body }]) => [
    [params, { coerce: false }],
    [query, { coerce: true }],
    [body, { coerce: false }],
  ]);
  for (const [schema, how] of schemas) {
    compileAhead(schema, how);
    await new Promise((next) => setImmediate(next));
  }
}
