import { endpoints } from '../../../contract';
import { signedCalls } from '../../../contract/track/signed-calls';
import { compileAhead } from './validate';

/** Compiles every schema that a call is checked by, which takes half a second in all: one at its first use holds whoever else is served. */
export function compileContract(): void {
  const ends = endpoints.map(([, end]) => end);
  compileAhead([
    ...ends.flatMap((end) => [end.params, end.body]),
    ...Object.values(signedCalls).map((call) => call.body),
  ]);
  compileAhead(
    ends.map((end) => end.query),
    { coerce: true },
  );
}
