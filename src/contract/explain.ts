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

/** Turns a fault into a sentence that names the field, the reason and an example. */
export function explain({ pointer, keyword, schema, limit, value }: SchemaFault): FieldFault {
  const field = schema.title ?? (pointer.split('/').pop() || 'The request');
  const first = schema.examples?.[0];
  const example = first === undefined ? {} : { example: String(first) };
  const empty = value === '' || value === undefined || value === null;
  const say = (what: string): FieldFault => ({ pointer, detail: `${field} ${what}`, ...example });
  switch (keyword) {
    case 'required':
      return say('is missing');
    case 'additionalProperties':
      return say('is not a known field');
    case 'type':
      return say(`has the wrong type: it must be ${article(String(limit))}`);
    case 'minLength':
      return say(empty || limit === 1 ? 'is empty' : `is too short: at least ${limit} characters`);
    case 'maxLength':
      return say(`is too long: at most ${limit} characters`);
    case 'minimum':
      return say(`is too small: at least ${limit}`);
    case 'maximum':
      return say(`is too large: at most ${limit}`);
    case 'minItems':
      return say(`needs at least ${limit}`);
    case 'maxItems':
      return say(`takes at most ${limit}`);
    case 'x-one-line':
      return say('takes one line, without line breaks and tabs');
    case 'x-printable':
      return say(`holds a character that can be neither shown nor printed (${limit}); take it out`);
    case 'x-depth':
      return { pointer, detail: `The request is nested deeper than ${limit} levels` };
    case 'x-values':
      return { pointer, detail: `The request holds more than ${limit} values` };
    case 'enum':
      return say(`must be one of ${(schema.enum ?? []).join(', ')}`);
    case 'pattern':
      return say(
        empty
          ? 'is empty'
          : (patterns.find(([p]) => p.test(String(limit)))?.[1] ?? 'has a form that is not accepted'),
      );
    default:
      return say('is not accepted');
  }
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
