import { Type, type TObject, type TSchema } from '@sinclair/typebox';
import { prefixes, type Id, type IdKind } from '../core/text/id';

/** A closed object: unknown fields are named, not ignored. */
export const closed = <T extends Record<string, TSchema>>(fields: T) =>
  Type.Object(fields, { additionalProperties: false });

interface WordsOptions {
  least?: number;
  example?: string;
  pattern?: string;
  /** for who reads the contract */
  description?: string;
}

/** A text that a person types in one line; title and example are said when it is refused. */
export const words = (title: string, most: number, options: WordsOptions = {}) =>
  Type.String({ ...typed(title, most, options), 'x-one-line': true });

/** The same over several lines. */
export const paragraphs = (title: string, most: number, options: WordsOptions = {}) =>
  Type.String(typed(title, most, options));

function typed(title: string, most: number, { least = 0, example, pattern, description }: WordsOptions) {
  return {
    title,
    maxLength: most,
    minLength: least,
    ...(example === undefined ? {} : { examples: [example] }),
    ...(pattern === undefined ? {} : { pattern }),
    ...(description === undefined ? {} : { description }),
  };
}

export const wordsRequired = (title: string, most: number, example: string) =>
  words(title, most, { least: 1, example, pattern: '\\S' });
export const email = (title = 'E-mail address') =>
  words(title, 254, {
    least: 3,
    example: 'mara@loamletters.example',
    pattern: '^\\s*[^\\s@"<>(),;:]+@[^\\s@"<>(),;:]+\\.[^\\s@"<>(),;:.]{2,}\\s*$',
  });
export const webAddress = (title: string, example: string, least = 1) =>
  words(title, 500, {
    least,
    example,
    pattern: least ? '^https?://[^\\s/$.?#][^\\s]*$' : '^(https?://[^\\s/$.?#][^\\s]*)?$',
  });
export const decimal = (title: string, example: string) => words(title, 30, { example });
export const wholeNumber = (title: string, least: number, most: number, example: number) =>
  Type.Integer({ title, minimum: least, maximum: most, examples: [example] });
export const oneOf = <const T extends string>(title: string, values: readonly T[]) =>
  Type.Unsafe<T>({ type: 'string', enum: [...values], title, examples: [values[0]] });
export const country = words('Country', 2, { least: 2, example: 'PT', pattern: '^[A-Z]{2}$' });

/** The id of one of the kinds given, told by its prefix: an order’s is refused where an affiliate’s is asked for. */
export const idOf = <const K extends IdKind>(...kinds: [K, ...K[]]) =>
  Type.Unsafe<Id<K>>({
    type: 'string',
    minLength: 5,
    maxLength: 40,
    pattern: `^(${kinds.map((kind) => prefixes[kind]).join('|')})_[0-9A-Za-z]+$`,
    title: 'Id',
    examples: [`${prefixes[kinds[0]]}_01j8z`],
  });
export const byId = <const K extends IdKind>(...kinds: [K, ...K[]]) => closed({ id: idOf(...kinds) });
/** No later than a day that can be written with four digits of its year: beyond, no calendar says it. */
export const Moment = Type.Integer({
  title: 'Moment',
  description: 'UTC milliseconds',
  maximum: Date.UTC(10_000, 0) - 1,
  examples: [Date.UTC(2027, 2, 20, 9)],
});
export const MoneyOut = closed({ amount: Type.Integer(), currency: Type.String() });
export const Version = Type.Integer({
  minimum: 1,
  title: 'Version',
  examples: [1],
  description: 'the version that the edit started from',
});
/** The version of the one that has the name, as it was read, where that one is to be replaced. */
export const Replaces = Type.Optional(
  Type.Integer({
    minimum: 1,
    title: 'Replaces',
    examples: [1],
    description:
      'the version of the one with this name that is to be replaced; a taken name is refused without it',
  }),
);

export const nullable = <T extends TSchema>(schema: T) => Type.Union([schema, Type.Null()]);

/** How many there are of each of a closed list; of what is left out there are none. */
export const countsBy = <const T extends string>(values: readonly T[]) =>
  Type.Unsafe<Partial<Record<T, number>>>(
    closed(Object.fromEntries(values.map((value) => [value, Type.Optional(Type.Integer())]))),
  );

/** Keyset page of a list: `after` is the cursor that the last page ended with. */
export const pageQuery = {
  after: Type.Optional(Type.String({ maxLength: 200, title: 'After' })),
  limit: Type.Optional(Type.Integer({ minimum: 1, maximum: 500, title: 'Limit', examples: [50] })),
};
export const searchText = Type.Optional(Type.String({ maxLength: 100, title: 'Search' }));
export const page = <T extends TSchema>(row: T) =>
  closed({
    rows: Type.Array(row),
    next: nullable(Type.String()),
    unreadable: Type.Optional(
      Type.Integer({
        description: 'rows of this page that could not be read and are left out; the log says why',
      }),
    ),
  });
export const filtered = <T extends Record<string, TSchema>>(fields: T): TObject<T & typeof pageQuery> =>
  closed({ ...fields, ...pageQuery });

/** RFC 9457, with every fault at its field. */
export const ProblemOut = closed({
  type: Type.String(),
  title: Type.String(),
  status: Type.Integer(),
  code: Type.String(),
  detail: Type.String(),
  errors: Type.Array(
    closed({ pointer: Type.String(), detail: Type.String(), example: Type.Optional(Type.String()) }),
  ),
  current: Type.Optional(Type.Unknown()),
});
export type ProblemOut = (typeof ProblemOut)['static'];

/** Bytes of a body that brings a list or a file as text. */
export const listBytes = 6 * 1024 * 1024;
