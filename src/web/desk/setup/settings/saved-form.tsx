import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, type DefaultValues, type FieldValues, type UseFormReturn } from 'react-hook-form';
import { toast } from 'sonner';
import { type AnyEndpoint, type BodyOf, type ReplyOf } from '../../../../contract/endpoint';
import { type readProgramme } from '../../../../contract/setup/settings';
import { useBegun, useFollow, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { dropDraft, readDraft, useDraft } from '../../../kit/draft';
import { FormFault, placeFaults } from '../../../kit/form';
import { Note } from '../../../kit/note';
import { putInto } from '../../../kit/put-field';
import { useSend } from '../../../kit/send';

export type Of = ReplyOf<typeof readProgramme>;

interface FormOf<E extends AnyEndpoint, V> {
  /** the values of the form, of settings as they were read */
  values: (of: Of) => V;
  toBody: (values: V, version: number) => BodyOf<E>;
}

/** A settings form: saved by one call, faults at their fields; what is typed is kept in this browser until then, with what it began from. */
export function useSettingsForm<E extends AnyEndpoint, V extends FieldValues>(
  end: E,
  of: Of,
  { values, toBody }: FormOf<E, V>,
) {
  const queries = useQueryClient();
  const [fault, setFault] = useState<string | null>(null);
  const name = `settings ${end.path}`;
  const send = useSend(end);
  const now = { values: values(of), version: of.version };
  const [restored, setRestored] = useState(() => readDraft<{ begun: Begun<V>; typed: V }>(name));
  const schema = end.body.properties as Record<string, { title?: string }>;
  const edit = useBegun<V>(restored?.begun ?? now, (field) => schema[field]?.title ?? field);
  const form = useForm<V>({
    defaultValues: edit.begun.values as DefaultValues<V>,
    ...(restored
      ? { values: { ...edit.begun.values, ...restored.typed }, resetOptions: { keepDefaultValues: true } }
      : {}),
  });
  useDraft(name, form, (typed) => ({ begun: edit.begun, typed }));
  const { isDirty } = form.formState;
  useFollow(!restored && !isDirty && of.version > edit.begun.version, () => {
    edit.restart(now);
    form.reset(now.values);
  });
  const put = putInto(form);
  const discard = () => {
    setRestored(null);
    edit.restart(now);
    form.reset(now.values);
    dropDraft(name);
    setFault(null);
  };
  const read = (current: unknown) => ({ values: values(current as Of), version: (current as Of).version });
  const save = form.handleSubmit(async (typed) => {
    setFault(null);
    try {
      const answer: unknown = await send({ body: toBody(typed as V, edit.begun.version) });
      const saved = answer as Of;
      setRestored(null);
      edit.restart(read(saved));
      form.reset(values(saved));
      // after it: setting the form anew is a change of it as well
      dropDraft(name);
      await queries.invalidateQueries();
      toast('Saved');
    } catch (thrown) {
      if (!edit.overtake(thrown, read, typed as V, put))
        setFault(placeFaults(thrown, form.setError, Object.keys(now.values)));
    }
  });
  return {
    form,
    save,
    fault: (
      <>
        {restored && isDirty && <RestoredNote discard={discard} />}
        {edit.note(put)}
        <FormFault>{fault}</FormFault>
      </>
    ),
  };
}

function RestoredNote({ discard }: { discard: () => void }) {
  return (
    <Note as="div" role="status">
      What you typed last time and did not save is here again.{' '}
      <button type="button" className="link" onClick={discard}>
        Discard it
      </button>
    </Note>
  );
}

/** Saves what is typed; there is nothing to save before something is. */
export function SaveButton<V extends FieldValues>({ form }: { form: UseFormReturn<V> }) {
  const { isSubmitting, isDirty } = form.formState;
  return (
    <div>
      <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
        Save
      </Button>
    </div>
  );
}
