import type { TSchema } from '@sinclair/typebox';
import type { FieldFault } from '../../../contract/explain';
import { touch } from '../cache';
import { type App } from '../context';
import { Problem } from './problem';
import { childOf } from './shape';

interface Shape {
  type?: string;
  properties?: Record<string, TSchema>;
  items?: TSchema;
  anyOf?: TSchema[];
  examples?: unknown[];
  enum?: unknown[];
  minimum?: number;
  minItems?: number;
}

/** An object whose fields stand in as far as something is known of them. */
const standingObject = (properties: Shape['properties'] = {}): object =>
  Object.fromEntries(
    Object.entries(properties)
      .map(([name, child]) => [name, stand(child)])
      .filter(([, v]) => v !== undefined),
  );

/** A value of a type as good as any. */
const standing: Record<string, (shape: Shape) => unknown> = {
  integer: (shape) => shape.minimum ?? 1,
  number: (shape) => shape.minimum ?? 1,
  boolean: () => false,
  array: (shape) => (shape.minItems ? [stand(shape.items)] : []),
  object: (shape) => standingObject(shape.properties),
};

/** A value that a schema accepts, as good as its example; undefined where none is known. */
function stand(schema: TSchema | undefined): unknown {
  const shape = schema as Shape | undefined;
  if (!shape) return undefined;
  if (shape.examples?.length && shape.type !== 'array') return shape.examples[0];
  if (shape.enum?.length) return shape.enum[0];
  const own = shape.type === undefined ? undefined : standing[shape.type];
  if (own) return own(shape);
  return shape.anyOf ? stand(shape.anyOf[0]) : undefined;
}

/** The same value with an example in place of each that is at fault; null where that cannot be done. */
export function mended(schema: TSchema, value: unknown, faults: readonly FieldFault[]): unknown {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return null;
  const copy = structuredClone(value) as Record<string, unknown>;
  for (const { pointer } of faults) {
    const path = pointer.split('/').slice(1);
    const last = path.pop();
    let place: unknown = copy;
    let own: TSchema | undefined = schema;
    for (const key of path) {
      place = (place as Record<string, unknown> | undefined)?.[key];
      own = childOf(own, key);
    }
    if (last === undefined || typeof place !== 'object' || place === null) return null;
    const example = stand(childOf(own, last));
    if (example === undefined) delete (place as Record<string, unknown>)[last];
    else (place as Record<string, unknown>)[last] = example;
  }
  return copy;
}

const undone = Symbol('undone');

/** What work would refuse, without any of it being done: it runs in a transaction that is always taken back. Synchronous work only. */
export function refusalsOf(app: App, work: () => unknown): FieldFault[] {
  const written = () => app.sqlite.prepare('SELECT total_changes()').pluck().get();
  const before = written();
  try {
    app.transaction(() => {
      work();
      throw undone;
    });
    return [];
  } catch (thrown) {
    return thrown instanceof Problem && thrown.code === 'invalid' ? thrown.errors : [];
  } finally {
    // what was read meanwhile may be of what was taken back; where nothing was written, what is kept in memory stays good
    if (written() !== before) {
      touch(app, 'terms');
    }
  }
}

/**
 * Every fault of a value: those of its schema, and beside them those that only show once it has the right shape. For the second, examples stand in for what
 * is at fault already, and what is said of the examples is left out.
 */
export function allFaults(
  app: App,
  {
    schema,
    value,
    faults,
    work,
  }: { schema: TSchema; value: unknown; faults: FieldFault[]; work: (mended: unknown) => unknown },
): FieldFault[] {
  const tried = mended(schema, value, faults);
  if (tried === null) return faults;
  const known = new Set(faults.map((f) => f.pointer));
  return [...faults, ...refusalsOf(app, () => work(tried)).filter((f) => !known.has(f.pointer))];
}
