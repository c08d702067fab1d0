import type { TSchema } from '@sinclair/typebox';

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
type Node = { [key: string]: Json };
/** A schema in the document: whole, or where it stands. */
export type Shared = Node | { $ref: string };

/** Characters of a reference to a component, and of the component's own name. */
const [reference, nameAlone] = [46, 20];

/** True where a schema that stands in several places takes fewer characters with a name of its own. */
export const isWorthAName = (characters: number, places: number): boolean =>
  (places - 1) * characters > places * reference + nameAlone;

const isNode = (value: Json | undefined): value is Node =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What only our own checks read. */
const own = new Set(['x-one-line', 'x-printable']);

/** What is only of interest where something is typed or sent. */
const ofInput = new Set([
  ...['title', 'examples', 'minLength', 'maxLength', 'pattern', 'minimum', 'maximum'],
  ...['minItems', 'maxItems', 'uniqueItems', 'format'],
]);

/** A type or null, in the short form of the standard, where it is that of a plain value. */
function shorter(node: Node): Node {
  const [first, second] = Array.isArray(node.anyOf) && node.anyOf.length === 2 ? node.anyOf : [];
  if (!isNode(first) || !isNode(second) || second.type !== 'null') return node;
  const isPlain = typeof first.type === 'string' && !('enum' in first || 'properties' in first);
  return isPlain ? { ...first, type: [first.type!, 'null'] } : node;
}

/** A schema without what an answer says to nobody: limits of what may be typed. */
const asAnswered = (node: Node): Node =>
  Object.fromEntries(Object.entries(node).filter(([key]) => !ofInput.has(key)));

/** A schema without a title that only repeats the field it is of. */
function withoutName({ title, ...rest }: Node, field: string): Node {
  const isSaid =
    typeof title === 'string' && title.replaceAll(/[ -]/g, '').toLowerCase() === field.toLowerCase();
  return title === undefined || isSaid ? rest : { title, ...rest };
}

const untitled = ({ title: _title, ...rest }: Node): Node => rest;

/** True for a schema, not for the list of fields of one. */
const isSchema = (node: Node): boolean =>
  typeof node.type === 'string' || 'anyOf' in node || 'allOf' in node || 'oneOf' in node;

/** A schema as plain JSON. @param answered true for what is answered, false for what is taken */
function plain(schema: TSchema, answered = false): Node {
  const kept = (key: string, value: unknown): unknown => {
    if (own.has(key) || (key === 'minLength' && value === 0)) return undefined;
    // the document says once that unknown fields are refused
    if (key === 'additionalProperties' && value === false) return undefined;
    if (!isNode(value as Json)) return value;
    const node = withoutName(shorter(value as Node), key);
    return answered && isSchema(node) ? asAnswered(node) : node;
  };
  return JSON.parse(JSON.stringify(schema, kept)) as Node;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A name for a schema within another: its title, or the field that it is of. An item of a list is one of them. */
function nameOf(child: Node, field: string, parent: string): string {
  if (typeof child.title === 'string')
    return child.title
      .split(/[^A-Za-z0-9]+/)
      .map(capital)
      .join('');
  return field === 'item' || field === 'value' || field === ''
    ? `${parent}${capital(field)}`
    : capital(field);
}

/** Places in a schema where another schema stands, with the name of each. */
function childrenOf(node: Node): [keys: string[], child: Node, name: string][] {
  const found: [string[], Node, string][] = [];
  const add = (keys: string[], child: Json | undefined, name: string) => {
    if (isNode(child)) found.push([keys, child, name]);
  };
  if (isNode(node.properties))
    for (const [name, child] of Object.entries(node.properties)) add(['properties', name], child, name);
  if (isNode(node.patternProperties))
    for (const [name, child] of Object.entries(node.patternProperties))
      add(['patternProperties', name], child, 'value');
  add(['items'], node.items, 'item');
  add(['additionalProperties'], node.additionalProperties, 'value');
  for (const word of ['anyOf', 'allOf', 'oneOf'])
    if (Array.isArray(node[word])) node[word].forEach((child, i) => add([word, String(i)], child, ''));
  return found;
}

/** Puts something into a place of a schema that is a copy already. */
function put(node: Node, [first, second]: string[], child: Shared): void {
  if (second === undefined) {
    node[first!] = child;
    return;
  }
  const inside = node[first!]!;
  if (Array.isArray(inside)) inside[Number(second)] = child;
  else (inside as Node)[second] = child;
}

/**
 * Schemas of a document that stand once each: what occurs in several places is a component, and every place names it.
 * All schemas are to be counted before the first is placed.
 */
export class SharedSchemas {
  readonly #counts = new Map<string, number>();
  readonly #names = new Map<string, string>();
  readonly #known = new Map<string, string>();
  /** the components by name, filled while schemas are placed */
  readonly components: Record<string, Shared> = {};

  /** @param named schemas that have a name of their own already */
  constructor(named: readonly (readonly [name: string, schema: TSchema])[]) {
    for (const [name, schema] of named)
      for (const answered of [true, false])
        this.#known.set(JSON.stringify(plain(schema, answered)), capital(name));
  }

  /** Counts a schema and everything in it. @param answered true for what is answered */
  count(schema: TSchema, answered = false): void {
    this.#count(plain(schema, answered));
  }

  #count(node: Node): void {
    const text = JSON.stringify(node);
    const before = this.#counts.get(text) ?? 0;
    this.#counts.set(text, before + 1);
    // what is in a schema that was seen before is named with it
    if (before === 0) for (const [, child] of childrenOf(node)) this.#count(child);
  }

  /** A schema of a parameter as it stands in the document: the parameter has the name already. @param hint a name for it, where it needs one */
  place(schema: TSchema, hint: string): Shared {
    const placed = this.#place(plain(schema), hint, false);
    return '$ref' in placed ? placed : untitled(placed as Node);
  }

  /** What a call takes or answers. @param answered true for what is answered */
  whole(
    schema: TSchema,
    { hint, answered, named = false }: { hint: string; answered: boolean; named?: boolean },
  ): Shared {
    return this.#place(plain(schema, answered), hint, named);
  }

  #place(node: Node, hint: string, always: boolean): Shared {
    const text = JSON.stringify(node);
    const known = this.#names.get(text);
    if (known !== undefined) return { $ref: `#/components/schemas/${known}` };
    const isShared = isWorthAName(text.length, this.#counts.get(text) ?? 0);
    if (!isShared && !(always && isNode(node.properties))) return this.#copied(node, hint);
    const name = this.#freeName(this.#known.get(text) ?? hint);
    this.#names.set(text, name);
    this.components[name] = this.#copied(node, name);
    return { $ref: `#/components/schemas/${name}` };
  }

  #copied(node: Node, hint: string): Node {
    const copy = structuredClone(node);
    for (const [keys, child, name] of childrenOf(node))
      put(copy, keys, this.#place(child, nameOf(child, name, hint), false));
    return copy;
  }

  #freeName(wanted: string): string {
    const name = wanted.replace(/[^A-Za-z0-9]/g, '') || 'Schema';
    let free = name;
    for (let n = 2; free in this.components; n += 1) free = `${name}${n}`;
    // taken before what is in it asks for a name
    this.components[free] = {};
    return free;
  }
}
