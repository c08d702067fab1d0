import { useState, type BaseSyntheticEvent, type ReactNode } from 'react';
import { type FieldValues, type UseFormReturn } from 'react-hook-form';
import { toast } from 'sonner';
import { type AnyEndpoint, type BodyOf, type ReplyOf } from '../../../../contract/endpoint';
import { type readProgramme } from '../../../../contract/setup/settings';
import { Button } from '../../../kit/button';
import { FormFault, placeFaults } from '../../../kit/form';
import { useKeptForm } from '../../../kit/kept-form';
import { useRefresh } from '../../../kit/refresh';
import { RestoredNote } from '../../../kit/restored';
import { useSend } from '../../../kit/send';
import { useMay } from '../../roles';

export type Of = ReplyOf<typeof readProgramme>;

interface FormOf<E extends AnyEndpoint, V> {
  /** the values of the form, of settings as they were read */
  values: (settings: Of) => V;
  toBody: (values: V, version: number) => BodyOf<E>;
}

/** The settings of these names as a form holds them: as they are. */
export const picked = <K extends keyof Of>(settings: Of, ...names: K[]) =>
  Object.fromEntries(names.map((name) => [name, settings[name]])) as Pick<Of, K>;

/** A settings form: saved by one call, faults at their fields; what is typed is kept in this browser until then, with what it began from. */
export function useSettingsForm<E extends AnyEndpoint, V extends FieldValues>(
  end: E,
  settings: Of,
  { values, toBody }: FormOf<E, V>,
) {
  const may = useMay()(end);
  const refresh = useRefresh();
  const [fault, setFault] = useState<string | null>(null);
  const name = `settings ${end.path}`;
  const send = useSend(end);
  const now = { values: values(settings), version: settings.version };
  const schema = end.body.properties as Record<string, { title?: string }>;
  const kept = useKeptForm<V>({ name, now, title: (field) => schema[field]?.title ?? field });
  const { form, edit, put } = kept;
  const discard = () => {
    kept.discard();
    setFault(null);
  };
  const read = (current: unknown) => ({ values: values(current as Of), version: (current as Of).version });
  const save = form.handleSubmit(async (typed) => {
    setFault(null);
    try {
      const answer: unknown = await send({ body: toBody(typed as V, edit.begun.version) });
      kept.begin(read(answer));
      await refresh(end);
      toast('Saved');
    } catch (thrown) {
      if (!edit.overtake(thrown, read, typed as V, put))
        setFault(placeFaults(thrown, form.setError, Object.keys(now.values)));
    }
  });
  return {
    form,
    /** what every field of it is bound by */
    bound: { control: form.control, register: form.register, errors: form.formState.errors, disabled: !may },
    save,
    may,
    fault: (
      <>
        {kept.isRestored && <RestoredNote discard={discard} />}
        {edit.note(put)}
        <FormFault>{fault}</FormFault>
      </>
    ),
  };
}

/** The form itself: what others changed and what is wrong above the fields, saving below them. */
export function SettingsForm<V extends FieldValues>({
  saved,
  className = 'grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4',
  children,
}: {
  saved: {
    form: UseFormReturn<V>;
    save: (e?: BaseSyntheticEvent) => Promise<void>;
    may: boolean;
    fault: ReactNode;
  };
  /** how its fields stand: two in a row where nothing else is said */
  className?: string;
  children: ReactNode;
}) {
  const { form, save, may, fault } = saved;
  return (
    <form noValidate className={className} onSubmit={(e) => void save(e)}>
      <div className="col-[1/-1]">{fault}</div>
      {children}
      {may && <SaveButton form={form} />}
    </form>
  );
}

/** Saves what is typed; there is nothing to save before something is. */
function SaveButton<V extends FieldValues>({ form }: { form: UseFormReturn<V> }) {
  const { isSubmitting, isDirty } = form.formState;
  return (
    <div>
      <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
        Save
      </Button>
    </div>
  );
}
