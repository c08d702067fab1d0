import { TypeRegistry, type Static, type TObject } from '@sinclair/typebox';
import { useId, type ReactNode } from 'react';
import {
  get,
  set,
  type FieldErrors,
  type FieldValues,
  type Path,
  type Resolver,
  type UseFormRegister,
  type UseFormSetError,
} from 'react-hook-form';
import { explain } from '../../contract/explain';
import { Refused } from './api';
import { faultInWords } from './keeper';
import { Labelled } from './labelled';
import { Hint, Note, Wrong } from './note';

interface FieldSchema {
  title?: string;
  maxLength?: number;
  examples?: unknown[];
  enum?: string[];
}

/**
 * Checks a form by the schema of the contract, with the sentences that the server would say.
 * @param lists fields that are lists with fields of their own, where a fault stands
 */
export function resolverOf<T extends TObject>(
  schema: T,
  lists: readonly string[] = [],
): Resolver<Static<T> & FieldValues> {
  return async (values) => {
    const { Value } = await import('@sinclair/typebox/value');
    // a choice of words is a plain JSON Schema enum, which the checker has to be told of
    TypeRegistry.Set<FieldSchema>(
      'Unsafe',
      (schema, value) => !schema.enum || schema.enum.includes(value as string),
    );
    const errors = {};
    for (const e of Value.Errors(schema, values)) {
      const field = fieldAt(e.path, lists);
      if (get(errors, field)) continue;
      const fieldSchema = e.schema as Record<string, unknown> & FieldSchema;
      const keyword =
        ['minLength', 'pattern', 'maxLength', 'minimum', 'maximum', 'minItems', 'maxItems', 'enum'].find(
          (k) => k in fieldSchema && fails(k, fieldSchema[k], e.value),
        ) ?? (e.value === undefined ? 'required' : 'type');
      const { detail, example } = explain({
        pointer: e.path,
        keyword,
        schema: fieldSchema,
        limit: keyword === 'type' ? fieldSchema.type : fieldSchema[keyword],
        value: e.value,
      });
      set(errors, field, { type: keyword, message: example ? `${detail}, such as “${example}”` : detail });
    }
    return Object.keys(errors).length
      ? { values: {}, errors: errors as FieldErrors<Static<T> & FieldValues> }
      : { values, errors: {} };
  };
}

/** The field that a pointer is about: “practices.3.name” of /practices/3/name, where practices is a list with fields of its own. */
function fieldAt(pointer: string, lists: readonly string[]): string {
  const [field = '', ...rest] = pointer.split('/').slice(1);
  return lists.includes(field) ? [field, ...rest].join('.') : field;
}

type Rules = Record<string, (limit: unknown) => boolean>;

const ofText = (text: string): Rules => ({
  minLength: (limit) => text.length < Number(limit),
  maxLength: (limit) => text.length > Number(limit),
  pattern: (limit) => !new RegExp(String(limit)).test(text),
});

const ofNumber = (n: number): Rules => ({
  minimum: (limit) => n < Number(limit),
  maximum: (limit) => n > Number(limit),
});

const ofList = (list: unknown[]): Rules => ({
  minItems: (limit) => list.length < Number(limit),
  maxItems: (limit) => list.length > Number(limit),
});

function rulesOf(value: unknown): Rules {
  if (typeof value === 'string') return ofText(value);
  if (typeof value === 'number') return ofNumber(value);
  return Array.isArray(value) ? ofList(value) : {};
}

/** True where a value breaks a rule of its schema. */
function fails(keyword: string, limit: unknown, value: unknown): boolean {
  if (keyword === 'enum') return !(limit as unknown[]).includes(value);
  return rulesOf(value)[keyword]?.(limit) ?? false;
}

/** Puts the server's faults at their fields. @returns what belongs to no field, or null */
export function placeFaults<T extends FieldValues>(
  fault: unknown,
  setError: UseFormSetError<T>,
  fields: readonly string[],
  lists: readonly string[] = [],
): string | null {
  if (!(fault instanceof Refused)) return faultInWords(fault);
  let placed = 0;
  for (const { pointer, detail, example } of fault.problem.errors) {
    const field = fieldAt(pointer, lists);
    if (!fields.includes(field.split('.')[0]!)) continue;
    setError(
      field as Path<T>,
      { type: 'server', message: example ? `${detail}, such as “${example}”` : detail },
      { shouldFocus: placed === 0 },
    );
    placed += 1;
  }
  return placed > 0 && placed === fault.problem.errors.length ? null : faultInWords(fault);
}

const inputLook =
  'w-full rounded-sm border bg-sheet px-2 py-[5px] text-ink disabled:bg-rail disabled:text-ink2';

export interface FieldProps<T extends FieldValues> {
  name: Path<T>;
  schema: object;
  errors: FieldErrors<T>;
  label?: string;
  hint?: ReactNode;
  disabled?: boolean;
}

interface TextFieldProps<T extends FieldValues> extends FieldProps<T> {
  register: UseFormRegister<T>;
  kind?: 'text' | 'password' | 'email' | 'number' | 'area';
  autoComplete?: string;
  /** inside the field at the right: a unit */
  unit?: string;
  rows?: number;
  /** id of a list of words that are proposed */
  list?: string;
}

/** A field of a form, made from its schema: label, example, longest text; its fault stands below it. */
export function Field<T extends FieldValues>(props: TextFieldProps<T>) {
  return (
    <Framed {...props}>
      {(frame) => (
        <div className="relative">
          <Control {...props} {...frame} />
          {props.unit && (
            <span className="pointer-events-none absolute top-[6px] right-3 text-ink3">{props.unit}</span>
          )}
        </div>
      )}
    </Framed>
  );
}

/** What a control of a field is told by what stands around it. */
export interface InFrame {
  id: string;
  faulty: boolean;
  describedBy?: string;
}

/** The name of a field above it, and below it its fault, or what is good to know. */
export function Framed<T extends FieldValues>({
  name,
  schema,
  errors,
  label,
  hint,
  children,
}: FieldProps<T> & { children: (frame: InFrame) => ReactNode }) {
  const id = useId();
  const message = (get(errors, name) as { message?: string } | undefined)?.message;
  const faulty = message !== undefined;
  return (
    <div>
      <Labelled htmlFor={id} className="mb-[3px]">
        {label ?? (schema as FieldSchema).title}
      </Labelled>
      {children({ id, faulty, describedBy: describedBy(id, faulty, Boolean(hint)) })}
      {message && (
        <Wrong id={`${id}-fault`} role="alert">
          {message}
        </Wrong>
      )}
      {hint && !message && (
        <Hint id={`${id}-hint`} className="mt-1">
          {hint}
        </Hint>
      )}
    </div>
  );
}

/** What is said below a field, for those who hear it. */
function describedBy(id: string, faulty: boolean, hinted: boolean): string | undefined {
  const ids = [faulty ? `${id}-fault` : '', hinted && !faulty ? `${id}-hint` : ''].filter(Boolean);
  return ids.join(' ') || undefined;
}

/** The example that stands in an empty field. */
function exampleOf(schema: FieldSchema, kind: TextFieldProps<FieldValues>['kind']): string | undefined {
  const example = schema.examples?.[0];
  return example === undefined || kind === 'password' ? undefined : String(example);
}

function Control<T extends FieldValues>({
  name,
  schema,
  register,
  kind = 'text',
  disabled,
  autoComplete,
  unit,
  rows = 4,
  list,
  id,
  faulty,
  describedBy,
}: TextFieldProps<T> & InFrame) {
  const common = {
    id,
    disabled,
    'aria-invalid': faulty ? (true as const) : undefined,
    'aria-describedby': describedBy,
    // a text that is pasted into an area is never cut off unseen: it is said below that it is too long
    maxLength: kind === 'number' || kind === 'area' ? undefined : (schema as FieldSchema).maxLength,
    className: `${inputLook} ${faulty ? 'border-madder' : 'border-rule'} ${unit ? 'pr-12' : ''}`,
    placeholder: exampleOf(schema, kind),
    autoComplete,
    ...register(name, kind === 'number' ? { valueAsNumber: true } : {}),
  };
  return kind === 'area' ? (
    <textarea rows={rows} dir="auto" {...common} />
  ) : (
    <input type={kind} list={list} {...common} />
  );
}

/** A fault that belongs to no single field. */
export function FormFault({ children }: { children: ReactNode }) {
  if (!children) return null;
  return (
    <Note tone="refused" as="div" role="alert">
      {children}
    </Note>
  );
}
