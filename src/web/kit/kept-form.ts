import { useState } from 'react';
import { useForm, type DefaultValues, type FieldValues, type Resolver } from 'react-hook-form';
import { useBegun, useFollow, type Begun } from './begun';
import { dropDraft, readDraft, useDraft } from './draft';
import { putInto } from './put-field';

interface KeptForm<V extends FieldValues> {
  /** the record that what is typed belongs to */
  name: string;
  /** the record as it was read last */
  now: Begun<V>;
  title: (field: string) => string;
  resolver?: Resolver<V>;
  /** who may not save begins with nothing kept */
  may?: boolean;
  /** a value in words, where it is not its own word */
  say?: (value: unknown, field: string) => string;
}

/**
 * A form of a record. What is typed is kept in this browser until it is saved or discarded, with the version it began
 * from; as long as nothing is typed, the form follows what others save.
 */
export function useKeptForm<V extends FieldValues>({
  name,
  now,
  title,
  resolver,
  may = true,
  say,
}: KeptForm<V>) {
  const [restored, setRestored] = useState(() =>
    may ? readDraft<{ begun: Begun<V>; typed: V }>(name) : null,
  );
  const edit = useBegun<V>(restored?.begun ?? now, title, say);
  const form = useForm<V>({
    ...(resolver ? { resolver } : {}),
    defaultValues: edit.begun.values as DefaultValues<V>,
    ...(restored
      ? { values: { ...edit.begun.values, ...restored.typed }, resetOptions: { keepDefaultValues: true } }
      : {}),
  });
  useDraft(name, form, (typed) => ({ begun: edit.begun, typed }));
  const { isDirty } = form.formState;
  useFollow(!restored && !isDirty && now.version > edit.begun.version, () => {
    edit.restart(now);
    form.reset(now.values);
  });
  /** goes on from what was saved, or from what is there now: nothing is kept */
  const begin = (from: Begun<V>) => {
    edit.restart(from);
    setRestored(null);
    form.reset(from.values);
    // after it: setting the form anew is a change of it as well
    dropDraft(name);
  };
  return {
    form,
    edit,
    /** takes a value into the form, of a field that is known by its name alone */
    put: putInto(form),
    /** what was typed last time and not saved, as it was when the form opened */
    restored: restored?.typed ?? null,
    /** it is in the form, and has not been taken back or saved since */
    isRestored: restored !== null && isDirty,
    begin,
    discard: () => begin(now),
  };
}
