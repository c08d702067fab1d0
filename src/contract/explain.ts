/** A fault found by a schema checker, whichever checker it was. */
export interface SchemaFault {
  /** JSON pointer of the value */
  pointer: string;
  keyword: string;
  /** the schema of the value: its title and first example are said */
  schema: { title?: string; examples?: unknown[]; enum?: unknown[]; [key: string]: unknown };
  limit?: unknown;
  value?: unknown;
}

export interface FieldFault {
  pointer: string;
  detail: string;
  example?: string;
}

const patterns: [RegExp, string][] = [
  [/@/, 'is not an e-mail address'],
  [/^\^\(\[Hh\]/, 'is not a site'],
  [/https\?/, 'is not a web address that begins with http:// or https://'],
  [/A-Z\]\{2\}/, 'is not a country code of two capitals'],
  [/^\\S$/, 'is empty'],
  [/u001f/, 'holds control characters, or nothing but spaces'],
];

/** Each keyword of a schema as what is said of the field. */
const sayings: Record<
  string,
  (limit: unknown, checked: { schema: SchemaFault['schema']; empty: boolean }) => string
> = {
  required: () => 'is missing',
  additionalProperties: () => 'is not a known field',
  type: (limit) => `has the wrong type: it must be ${article(String(limit))}`,
  minLength: (limit, { empty }) =>
    empty || limit === 1 ? 'is empty' : `is too short: at least ${limit} characters`,
  maxLength: (limit) => `is too long: at most ${limit} characters`,
  minimum: (limit) => `is too small: at least ${limit}`,
  maximum: (limit) => `is too large: at most ${limit}`,
  minItems: (limit) => `needs at least ${limit}`,
  maxItems: (limit) => `takes at most ${limit}`,
  'x-one-line': () => 'takes one line, without line breaks and tabs',
  'x-printable': (limit) => `holds a character that can be neither shown nor printed (${limit}); take it out`,
  enum: (_limit, { schema }) => `must be one of ${(schema.enum ?? []).join(', ')}`,
  pattern: (limit, { empty }) =>
    empty
      ? 'is empty'
      : (patterns.find(([p]) => p.test(String(limit)))?.[1] ?? 'has a form that is not accepted'),
};

/** What is said of the request as a whole. */
const ofTheRequest: Record<string, (limit: unknown) => string> = {
  'x-depth': (limit) => `The request is nested deeper than ${limit} levels`,
  'x-values': (limit) => `The request holds more than ${limit} values`,
};

const fieldOf = ({ schema, pointer }: SchemaFault): string =>
  schema.title ?? (pointer.split('/').pop() || 'The request');

/** Turns a fault into a sentence that names the field, the reason and an example. */
export function explain(fault: SchemaFault): FieldFault {
  const { pointer, keyword, schema, limit, value } = fault;
  const request = ofTheRequest[keyword];
  if (request) return { pointer, detail: request(limit) };
  const empty = value === '' || value === undefined || value === null;
  const what = sayings[keyword]?.(limit, { schema, empty }) ?? 'is not accepted';
  const first = schema.examples?.[0];
  const example =
    first === undefined ? {} : { example: typeof first === 'string' ? first : JSON.stringify(first) };
  return { pointer, detail: `${fieldOf(fault)} ${what}`, ...example };
}

function article(type: string): string {
  return (
    (
      {
        integer: 'a whole number',
        number: 'a number',
        string: 'text',
        boolean: 'true or false',
        array: 'a list',
        object: 'an object',
      } as Record<string, string>
    )[type] ?? type
  );
}
