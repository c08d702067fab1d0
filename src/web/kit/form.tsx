import { TypeRegistry, type Static, type TObject } from '@sinclair/typebox';
import { useId, type ReactNode, type Ref, type SelectHTMLAttributes } from 'react';
import type {
  FieldErrors,
  FieldValues,
  Path,
  Resolver,
  UseFormRegister,
  UseFormSetError,
} from 'react-hook-form';
import { explain } from '../../contract/explain';
import { Refused } from './api';
import { faultInWords } from './keeper';
import { Labelled } from './labelled';
import { Hint, Note } from './note';

interface FieldSchema {
  title?: string;
  maxLength?: number;
  examples?: unknown[];
  enum?: string[];
}

/** Checks a form by the schema of the contract, with the sentences that the server would say. */
export function resolverOf<T extends TObject>(schema: T): Resolver<Static<T> & FieldValues> {
  return async (values) => {
    const { Value } = await import('@sinclair/typebox/value');
    // a choice of words is a plain JSON Schema enum, which the checker has to be told of
    TypeRegistry.Set<FieldSchema>('Unsafe', (of, value) => !of.enum || of.enum.includes(value as string));
    const errors: Record<string, { type: string; message: string }> = {};
    for (const e of Value.Errors(schema, values)) {
      const field = e.path.split('/')[1] ?? '';
      if (errors[field]) continue;
      const of = e.schema as Record<string, unknown> & FieldSchema;
      const keyword =
        ['minLength', 'pattern', 'maxLength', 'minimum', 'maximum', 'minItems', 'maxItems', 'enum'].find(
          (k) => k in of && fails(k, of[k], e.value),
        ) ?? (e.value === undefined ? 'required' : 'type');
      const { detail, example } = explain({
        pointer: e.path,
        keyword,
        schema: of,
        limit: keyword === 'type' ? of.type : of[keyword],
        value: e.value,
      });
      errors[field] = { type: keyword, message: example ? `${detail}, such as “${example}”` : detail };
    }
    return Object.keys(errors).length
      ? { values: {}, errors: errors as FieldErrors<Static<T> & FieldValues> }
      : { values, errors: {} };
  };
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
): string | null {
  if (!(fault instanceof Refused)) return faultInWords(fault);
  let placed = 0;
  for (const { pointer, detail, example } of fault.problem.errors) {
    const field = pointer.split('/')[1] ?? '';
    if (!fields.includes(field)) continue;
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

interface FieldProps<T extends FieldValues> {
  name: Path<T>;
  schema: object;
  register: UseFormRegister<T>;
  errors: FieldErrors<T>;
  label?: string;
  hint?: ReactNode;
  kind?: 'text' | 'password' | 'email' | 'number' | 'area' | 'select' | 'date';
  options?: readonly (readonly [string, string])[];
  disabled?: boolean;
  autoComplete?: string;
  /** inside the field at the right: a unit */
  unit?: string;
  rows?: number;
}

/** A field of a form, made from its schema: label, example, longest text; its fault stands below it. */
export function Field<T extends FieldValues>(props: FieldProps<T>) {
  const { name, schema, errors, label, hint, unit } = props;
  const id = useId();
  const message = (errors[name] as { message?: string } | undefined)?.message;
  return (
    <div>
      <Labelled htmlFor={id} className="mb-[3px]">
        {label ?? (schema as FieldSchema).title}
      </Labelled>
      <div className="relative">
        <Control {...props} id={id} faulty={message !== undefined} />
        {unit && <span className="pointer-events-none absolute top-[6px] right-3 text-ink3">{unit}</span>}
      </div>
      {message && (
        <p id={`${id}-fault`} role="alert" className="mt-1 text-madder">
          {message}
        </p>
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
  const ids = [faulty ? `${id}-fault` : '', hinted ? `${id}-hint` : ''].filter(Boolean);
  return ids.join(' ') || undefined;
}

/** The example that stands in an empty field. */
function exampleOf(schema: FieldSchema, kind: FieldProps<FieldValues>['kind']): string | undefined {
  const example = schema.examples?.[0];
  return example === undefined || kind === 'password' ? undefined : String(example);
}

function Control<T extends FieldValues>({
  name,
  schema,
  register,
  hint,
  kind = 'text',
  options,
  disabled,
  autoComplete,
  unit,
  rows = 4,
  id,
  faulty,
}: FieldProps<T> & { id: string; faulty: boolean }) {
  const { maxLength, enum: values = [] } = schema as FieldSchema;
  const common = {
    id,
    disabled,
    'aria-invalid': faulty ? (true as const) : undefined,
    'aria-describedby': describedBy(id, faulty, Boolean(hint)),
    maxLength: kind === 'number' ? undefined : maxLength,
    className: `${inputLook} ${faulty ? 'border-madder' : 'border-rule'} ${unit ? 'pr-12' : ''}`,
    placeholder: exampleOf(schema, kind),
    autoComplete,
    ...register(name, kind === 'number' ? { valueAsNumber: true } : {}),
  };
  if (kind === 'area') return <textarea rows={rows} {...common} />;
  if (kind !== 'select') return <input type={kind} {...common} />;
  return <Choices {...common} options={options ?? values.map((v) => [v, v] as const)} />;
}

function Choices({
  options,
  ...rest
}: SelectHTMLAttributes<HTMLSelectElement> & {
  options: readonly (readonly [string, string])[];
  ref?: Ref<HTMLSelectElement>;
}) {
  return (
    <select {...rest}>
      {options.map(([value, text]) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
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
