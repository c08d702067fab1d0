import type { TSchema } from '@sinclair/typebox';
import { Ajv, type ErrorObject, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import { explain, type FieldFault } from '../../../contract/explain';
import { hasBreaks } from '../../../core/text/characters';
import { invalid } from './problem';
import { outsiders, shapeFaults, type Bounds } from './shape';

// what the engine does away with by itself need not be done away with before: that was half of the time of compiling
const options = { allErrors: true, verbose: true, strictSchema: false, code: { optimize: false } };
const strict = new Ajv(options);
const coercing = new Ajv({ ...options, coerceTypes: true });
// ajv-formats is CommonJS: its function is the namespace's default in one loader and the namespace in another
const imported: unknown = addFormats;
const plugin = (typeof imported === 'function' ? imported : (imported as { default: unknown }).default) as (
  ajv: Ajv,
) => void;
for (const ajv of [strict, coercing]) {
  plugin(ajv);
  ajv.addKeyword({
    keyword: 'x-one-line',
    type: 'string',
    schemaType: 'boolean',
    validate: (on: boolean, value: string) => !on || !hasBreaks(value),
  });
}

const compiled = new WeakMap<TSchema, ValidateFunction>();
/** The same by what a schema says: a third of them say what another says. */
const compiledTexts = new Map<string, ValidateFunction>();

function faultOf(error: ErrorObject): FieldFault {
  const params = error.params as Record<string, unknown>;
  const parent = (error.parentSchema ?? {}) as { properties?: Record<string, object> };
  if (error.keyword === 'required') {
    const name = String(params.missingProperty);
    return explain({
      pointer: `${error.instancePath}/${name}`,
      keyword: 'required',
      schema: { title: name, ...parent.properties?.[name] },
    });
  }
  if (error.keyword === 'additionalProperties') {
    const name = String(params.additionalProperty);
    return explain({
      pointer: `${error.instancePath}/${name}`,
      keyword: 'additionalProperties',
      schema: { title: `“${name.slice(0, 40)}”` },
    });
  }
  if (error.keyword === 'format') {
    const fault = explain({ pointer: error.instancePath, keyword: 'format', schema: parent });
    return {
      ...fault,
      detail: `${fault.detail.replace(/ is not accepted$/, '')} is not a moment as ISO 8601 with offset`,
    };
  }
  const limit = params.limit ?? params.pattern ?? params.type;
  return explain({
    pointer: error.instancePath,
    keyword: error.keyword,
    schema: parent,
    limit,
    value: error.data,
  });
}

function checkOf(schema: TSchema, coerce: boolean): ValidateFunction {
  const known = compiled.get(schema);
  if (known) return known;
  const text = `${coerce} ${JSON.stringify(schema)}`;
  const check = compiledTexts.get(text) ?? (coerce ? coercing : strict).compile(schema);
  compiledTexts.set(text, check);
  compiled.set(schema, check);
  return check;
}

/** Compiles what will be asked for sooner or later: at its first use it would hold whoever else is served. */
export function compileAhead(schema: TSchema, { coerce = false }: { coerce?: boolean } = {}): void {
  checkOf(schema, coerce);
}

const isForeign = (error: ErrorObject) => error.keyword === 'additionalProperties';

/** The faults of a value by its schema, one a field, all at once, fields that are not known first: an answer names only so many. Empty if there are none. */
export function faultsOf(schema: TSchema, value: unknown, options: { coerce?: boolean } = {}): FieldFault[] {
  const check = checkOf(schema, options.coerce ?? false);
  if (check(value)) return [];
  const byField = new Map<string, FieldFault>();
  const errors = check.errors ?? [];
  for (const error of [...errors.filter(isForeign), ...errors.filter((e) => !isForeign(e))]) {
    if (error.keyword === 'anyOf' || error.keyword === 'oneOf') continue;
    const fault = faultOf(error);
    if (!byField.has(fault.pointer)) byField.set(fault.pointer, fault);
  }
  return [...byField.values()];
}

interface Rules {
  coerce?: boolean;
  bounds?: Bounds;
  /** faults beside those of the schema, looked for where it has some */ more?: (
    faults: FieldFault[],
  ) => FieldFault[];
}

/** @throws Problem `invalid` naming every field at fault; nothing is tried on what is larger than its bounds */
export function validate(
  schema: TSchema,
  value: unknown,
  { bounds = outsiders, more = (faults) => faults, ...options }: Rules = {},
): void {
  const shape = shapeFaults(value, schema, bounds);
  if (shape.length) throw invalid(shape);
  const faults = faultsOf(schema, value, options);
  if (faults.length) throw invalid(more(faults));
}
