import { BeyondAmounts } from '../../core/money/rounding';
import type { FieldFault } from '../../contract/explain';
import type { ProblemOut } from '../../contract/shared';

/** Every code of an error with its HTTP status. docs/errors.md has a section for each; a test compares. */
export const problemStatus = {
  malformed: 400, 'not-signed-in': 401, 'not-signed': 401, forbidden: 403, 'wrong-origin': 403, 'not-found': 404,
  stale: 409, conflict: 409, contradicts: 409, 'key-reused': 409, 'too-large': 413, invalid: 422,
  'too-many': 429, internal: 500, unavailable: 503,
} as const;
export type ProblemCode = keyof typeof problemStatus;

const titles: Record<ProblemCode, string> = {
  malformed: 'The request cannot be read', 'not-signed-in': 'Not signed in', 'not-signed': 'The signature is not accepted', forbidden: 'Not allowed',
  'wrong-origin': 'The request comes from another site', 'not-found': 'Not found', stale: 'Changed meanwhile', conflict: 'Not possible now',
  contradicts: 'Contradicts an earlier report', 'key-reused': 'Idempotency key used for something else', 'too-large': 'Too large', invalid: 'Some values are not accepted',
  'too-many': 'Too many requests', internal: 'Something went wrong here', unavailable: 'Not available now',
};

interface Details {
  errors?: FieldFault[];
  /** the present version of the record, for a stale edit */
  current?: unknown;
  cause?: unknown;
  retryAfter?: number;
}

/** The one error that routes and services throw; anything else that is thrown is an internal error. */
export class Problem extends Error {
  readonly code: ProblemCode;
  readonly errors: FieldFault[];
  readonly current: unknown;
  readonly retryAfter: number | undefined;

  constructor(code: ProblemCode, detail: string, { errors = [], current, cause, retryAfter }: Details = {}) {
    super(detail, { cause });
    this.code = code;
    this.errors = errors;
    this.current = current;
    this.retryAfter = retryAfter;
  }

  get status(): number {
    return problemStatus[this.code];
  }

  /** The body of the answer, RFC 9457. */
  toBody(): ProblemOut {
    return {
      type: `/docs/errors#${this.code}`, title: titles[this.code], status: this.status, code: this.code, detail: this.message, errors: this.errors,
      ...(this.current === undefined ? {} : { current: this.current }),
    };
  }
}

/** A refusal of named fields. */
export function invalid(errors: FieldFault[]): Problem {
  return new Problem('invalid', errors.map((e) => e.detail).join('; '), { errors });
}

/** A refusal of one field: pointer without the leading slash. */
export function refuse(field: string, detail: string, example?: string): Problem {
  return invalid([{ pointer: `/${field}`, detail, ...(example === undefined ? {} : { example }) }]);
}

/** Turns anything thrown into a Problem; what is unknown leaks nothing. */
export function problemFrom(thrown: unknown): Problem {
  if (thrown instanceof Problem) return thrown;
  const known = thrown as { status?: number; type?: string; message?: string } | null;
  if (known?.type === 'entity.too.large') return new Problem('too-large', 'The request is larger than is accepted here', { cause: thrown });
  if (known?.type === 'entity.parse.failed') return new Problem('malformed', 'The body is not valid JSON', { cause: thrown });
  if (known?.status === 404) return new Problem('not-found', 'There is nothing at this address', { cause: thrown });
  if (known?.status === 400 || thrown instanceof URIError) return new Problem('malformed', 'The request cannot be read', { cause: thrown });
  if (thrown instanceof BeyondAmounts || (known as { code?: string } | null)?.code === 'SQLITE_ERROR' && known?.message === 'integer overflow') return new Problem('invalid', 'A sum would be larger than a figure can hold exactly (2^53 minor units): nothing was changed, and none is shown wrong', { cause: thrown });
  return new Problem('internal', 'Nothing was changed. Try again; if it stays, the log has the details.', { cause: thrown });
}
