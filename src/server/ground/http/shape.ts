import type { TSchema } from '@sinclair/typebox';
import { explain, type FieldFault } from '../../../contract/explain';
import { unprintable } from '../../../core/text/characters';

/** How large a body may be before it is looked at more closely: levels, entries of one list, values in all. */
export interface Bounds {
  depth: number;
  items: number;
  values: number;
}

/** What a body of nobody known, or of an affiliate, may hold. */
export const outsiders: Bounds = { depth: 8, items: 200, values: 3_000 };
/** What the desk sends: lists of names and of choices. */
export const insiders: Bounds = { depth: 12, items: 20_000, values: 200_000 };

const mostFaults = 20;

interface Step {
  value: unknown;
  pointer: string;
  depth: number;
  schema: TSchema | undefined;
}

/** The schema of what stands under a key or at a place of a list; undefined where a schema says nothing of it. */
export function childOf(schema: TSchema | undefined, key: string | number): TSchema | undefined {
  const known = schema as
    { properties?: Record<string, TSchema>; items?: TSchema; anyOf?: TSchema[] } | undefined;
  return known?.properties?.[key] ?? known?.items ?? known?.anyOf?.map((s) => childOf(s, key)).find(Boolean);
}

/** Where a value is nested too deep, or a list too long. */
function tooMuch(
  here: object,
  { pointer, depth }: Step,
  bounds: Bounds,
): { keyword: string; limit: number; pointer?: string; schema?: Record<string, never> } | null {
  if (depth >= bounds.depth)
    return { pointer: pointer.slice(0, 200), keyword: 'x-depth', schema: {}, limit: bounds.depth };
  return Array.isArray(here) && here.length > bounds.items
    ? { keyword: 'maxItems', limit: bounds.items }
    : null;
}

/** What stands in a list or an object, each with where it stands and its schema. */
function childrenOf(here: object, { pointer, depth, schema }: Step): Step[] {
  const children: (readonly [string | number, unknown])[] = Array.isArray(here)
    ? here.map((v: unknown, i) => [i, v] as const)
    : Object.entries(here);
  return children.map(([key, value]) => ({
    value,
    pointer: `${pointer}/${String(key).slice(0, 60)}`,
    depth: depth + 1,
    schema: childOf(schema, key),
  }));
}

/**
 * Walks a value once, before any rule of a schema is tried on it: levels, lengths of lists, and characters that can be neither shown nor
 * printed. Stops at the first list or level that is too much, so that what is wrong costs no more than what is right.
 */
export function shapeFaults(value: unknown, schema: TSchema, bounds: Bounds): FieldFault[] {
  const faults: FieldFault[] = [];
  const waiting: Step[] = [{ value, pointer: '', depth: 0, schema }];
  let seen = 0;
  for (let step = waiting.pop(); step !== undefined; step = waiting.pop()) {
    seen += 1;
    const { value: here, pointer, schema: own } = step;
    const named = { pointer, schema: (own ?? {}) as { title?: string } };
    if (seen > bounds.values)
      return [explain({ pointer: '', keyword: 'x-values', schema: {}, limit: bounds.values })];
    if (typeof here === 'string') {
      const found = unprintable(here);
      if (found) faults.push(explain({ ...named, keyword: 'x-printable', limit: found }));
      if (faults.length >= mostFaults) return faults;
    }
    if (typeof here !== 'object' || here === null) continue;
    const much = tooMuch(here, step, bounds);
    if (much) return [explain({ ...named, ...much })];
    waiting.push(...childrenOf(here, step));
  }
  return faults.reverse();
}
