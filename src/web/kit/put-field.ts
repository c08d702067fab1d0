import type { FieldValues, Path, PathValue, UseFormReturn } from 'react-hook-form';

/** Puts values into fields that are known by their name alone, as what others saved meanwhile is. */
export function putInto<T extends FieldValues>(form: UseFormReturn<T>) {
  return (field: string, value: unknown): void =>
    form.setValue(field as Path<T>, value as PathValue<T, Path<T>>, { shouldDirty: true });
}
