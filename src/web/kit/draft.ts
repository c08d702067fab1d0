import { useEffect, useRef } from 'react';
import type { FieldValues, UseFormReturn } from 'react-hook-form';

const keyOf = (name: string) => `gravenel-typed-${name}`;

/** What was typed and not saved for a record, or null. */
export function readDraft<T>(name: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(name)) ?? 'null') as T | null;
  } catch {
    return null;
  }
}

/** Keeps what was typed for a record in this browser; where that keeps nothing, or has no room, typing goes on. */
export function keepDraft(name: string, values: unknown): void {
  try {
    localStorage.setItem(keyOf(name), JSON.stringify(values));
  } catch {
    // nothing to be done: it is still in the form
  }
}

export function dropDraft(name: string): void {
  try {
    localStorage.removeItem(keyOf(name));
  } catch {
    // a browser that keeps nothing has nothing to drop
  }
}

/** Keeps what is typed in this browser until it is saved, so that a reload or an ended session loses nothing. @param kept what is kept of it, with what it began from */
export function useDraft<T extends FieldValues>(
  name: string,
  form: UseFormReturn<T>,
  kept: (typed: unknown) => unknown = (typed) => typed,
): void {
  const dirty = useRef(false);
  const shape = useRef(kept);
  shape.current = kept;
  dirty.current = form.formState.isDirty;
  useEffect(() => {
    const subscription = form.watch((values, { type }) => {
      // a first change that is a paste is kept too: the form does not call itself changed yet
      if (type === 'change' || dirty.current || form.formState.isDirty)
        keepDraft(name, shape.current(values));
    });
    return () => subscription.unsubscribe();
  }, [form, name]);
}
