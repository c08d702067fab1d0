import { explain, type FieldFault } from '../../../contract/explain';
import type { ProblemOut } from '../../../contract/shared';
import { BeyondAmounts } from '../../../core/money/rounding';
import { outsiders } from './shape';

/** Every code of an error with its HTTP status. docs/errors.md has a section for each; a test compares. */
export const problemStatus = {
  malformed: 400,
  'not-signed-in': 401,
  'not-signed': 401,
  forbidden: 403,
  'wrong-origin': 403,
  'not-found': 404,
  'wrong-method': 405,
  stale: 409,
  conflict: 409,
  contradicts: 409,
  'key-reused': 409,
  'too-large': 413,
  'unknown-charset': 415,
  invalid: 422,
  'too-many': 429,
  internal: 500,
  unavailable: 503,
} as const;
export type ProblemCode = keyof typeof problemStatus;

const titles: Record<ProblemCode, string> = {
  malformed: 'The request cannot be read',
  'not-signed-in': 'Not signed in',
  'not-signed': 'The signature is not accepted',
  forbidden: 'Not allowed',
  'wrong-origin': 'The request comes from another site',
  'not-found': 'Not found',
  'wrong-method': 'Wrong method',
  stale: 'Changed meanwhile',
  conflict: 'Not possible now',
  contradicts: 'Contradicts an earlier report',
  'key-reused': 'Idempotency key used for something else',
  'too-large': 'Too large',
  'unknown-charset': 'Unknown character set',
  invalid: 'Some values are not accepted',
  'too-many': 'Too many requests',
  internal: 'Something went wrong here',
  unavailable: 'Not available now',
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
    // an answer, not a fault of ours: where it was thrown tells nothing, and writing that down costs more than the refusal
    const { stackTraceLimit } = Error;
    Error.stackTraceLimit = 0;
    super(detail, { cause });
    Error.stackTraceLimit = stackTraceLimit;
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
      type: `/docs/errors#${this.code}`,
      title: titles[this.code],
      status: this.status,
      code: this.code,
      detail: this.message,
      errors: this.errors,
      ...(this.current === undefined ? {} : { current: this.current }),
    };
  }
}

/** A refusal of named fields. */
export function invalid(errors: FieldFault[]): Problem {
  const named = errors.slice(0, mostNamed);
  const more = errors.length > mostNamed ? `; and ${errors.length - mostNamed} more` : '';
  return new Problem('invalid', named.map((e) => e.detail).join('; ') + more, { errors: named });
}

/** Faults that one answer names. */
const mostNamed = 20;

/** What is wrong with a field, as an answer names it: the field without the leading slash. */
export const atField = ({
  field,
  detail,
  example,
}: {
  field: string;
  detail: string;
  example?: string | undefined;
}): FieldFault => ({ pointer: `/${field}`, detail, ...(example === undefined ? {} : { example }) });

/** A refusal of one field: pointer without the leading slash. */
export function refuse(field: string, detail: string, example?: string): Problem {
  return invalid([atField({ field, detail, example })]);
}

interface Known {
  status?: number;
  type?: string;
  message?: string;
  code?: string;
}

/** What the machine does to a data file, by what the database says of it. */
const machineFaults: [RegExp, string][] = [
  [
    /^SQLITE_FULL/,
    'The disk is full: nothing was saved, and nothing was lost. Free some space on it, then try again.',
  ],
  [
    /^SQLITE_(CORRUPT|NOTADB)/,
    'The data file is damaged or was written over. Stop the server and bring back the last backup: npm run restore -- FILE',
  ],
  [
    /^SQLITE_(IOERR|CANTOPEN|READONLY|PERM)/,
    'The data file cannot be read or written. Nothing was changed. Look at the disk and at who owns the data folder, then start again.',
  ],
  [
    /^SQLITE_(BUSY|LOCKED)/,
    'Another program holds the data file. Nothing was changed; try again in a moment.',
  ],
];

/** The sentence for a fault of the machine; null where it is none. */
export function machineFault(thrown: unknown): string | null {
  const code = (thrown as Known | null)?.code;
  return typeof code === 'string'
    ? (machineFaults.find(([pattern]) => pattern.test(code))?.[1] ?? null)
    : null;
}

const unread: Record<string, string> = {
  'entity.parse.failed': 'The body is not valid JSON',
  'encoding.unsupported': 'The body is packed; send it as it is, without Content-Encoding',
  'body.not.utf8': 'The body is not valid UTF-8',
  'request.size.invalid': 'The body is not as long as its Content-Length says',
  'request.aborted': 'The request ended before its body did',
};

const isUnreadable = (thrown: unknown, status: number | undefined): boolean =>
  thrown instanceof URIError || (status !== undefined && status >= 400 && status < 500);

const isBeyondFigures = (thrown: unknown, known: Known | null): boolean =>
  thrown instanceof BeyondAmounts || (known?.code === 'SQLITE_ERROR' && known.message === 'integer overflow');

/** What reading a request throws, as a Problem; null for anything else. */
function problemOfReading(thrown: unknown, known: Known | null): Problem | null {
  const type = known?.type ?? '';
  if (type === 'entity.too.large')
    return new Problem('too-large', 'The request is larger than is accepted here', { cause: thrown });
  if (type === 'entity.too.deep')
    return invalid([explain({ pointer: '', keyword: 'x-depth', schema: {}, limit: outsiders.depth })]);
  if (type === 'charset.unsupported')
    return new Problem(
      'unknown-charset',
      'The body is in a character set that is not read here; send UTF-8',
      {
        cause: thrown,
      },
    );
  if (unread[type]) return new Problem('malformed', unread[type], { cause: thrown });
  if (known?.status === 404)
    return new Problem('not-found', 'There is nothing at this address', { cause: thrown });
  return isUnreadable(thrown, known?.status)
    ? new Problem('malformed', 'The request cannot be read', { cause: thrown })
    : null;
}

/** Turns anything thrown into a Problem; what is unknown leaks nothing. */
export function problemFrom(thrown: unknown): Problem {
  if (thrown instanceof Problem) return thrown;
  const known = thrown as Known | null;
  const reading = problemOfReading(thrown, known);
  if (reading) return reading;
  if (isBeyondFigures(thrown, known))
    return new Problem(
      'invalid',
      'A sum would be larger than a figure can hold exactly (2^53 minor units): nothing was changed, and none is shown wrong',
      { cause: thrown },
    );
  const machine = machineFault(thrown);
  if (machine) return new Problem('unavailable', machine, { cause: thrown, retryAfter: 5 });
  return new Problem('internal', 'Nothing was changed. Try again; if it stays, the log has the details.', {
    cause: thrown,
  });
}
