import { useImperativeHandle, useState, type Ref } from 'react';
import { type FieldErrors, type UseFormReturn } from 'react-hook-form';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { editPolicy, policyFields, type readPolicy } from '../../../../contract/setup/policy';
import { closed } from '../../../../contract/shared';
import { mergePractices } from '../../../../core/recruiting/merge-practices';
import type { PracticesPolicy } from '../../../../core/recruiting/policy';
import { answerWords } from '../../../../core/recruiting/practices';
import { wordsAlone } from '../../../../core/text/live';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { shown, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Field, FormFault, placeFaults, resolverOf } from '../../../kit/form';
import { useKeptForm } from '../../../kit/kept-form';
import { Apart, Pair } from '../../../kit/layout';
import { RestoredNote } from '../../../kit/restored';
import { type Groups } from './answers-apart';
import { Goods, Kinds, Notice, ReadsNow } from './fields';
import { PracticesTable } from './practices';

type Whole = ReplyOf<typeof readPolicy>;
const Fields = closed(policyFields);
const lists = ['practices'];

/** What stands outside the form and needs what is typed in it. */
export interface DraftHandle {
  /** saves what is typed, where anything is. @returns the draft as it is saved; null where it is refused, which is said at its field */
  save: () => Promise<Whole | null>;
}

const read = (current: unknown): Begun<PracticesPolicy> => ({
  values: (current as Whole).content,
  version: (current as Whole).version,
});

/** A value of a policy in words, for two people who changed the same: of the table, the practices that both answered otherwise. */
const inWords =
  (conflicts: readonly string[]) =>
  (value: unknown, field: string): string => {
    if (field !== 'practices') return shown(value);
    const table = value as PracticesPolicy['practices'];
    const answerOf = (name: string) => table.find((p) => p.name === name)?.answer ?? null;
    return conflicts
      .map((name) => {
        const answer = answerOf(name);
        return `${name}: ${answer ? answerWords[answer] : 'not answered'}`;
      })
      .join('; ');
  };

/** What is typed with what others saved meanwhile, practice by practice; null where the fault is another one. */
function mergeInto(fault: unknown, before: PracticesPolicy, typed: PracticesPolicy) {
  if (!(fault instanceof Refused) || fault.problem.code !== 'stale' || !fault.problem.current) return null;
  const now = read(fault.problem.current).values.practices;
  const { table, withTheirs, conflicts } = mergePractices(before.practices, now, typed.practices);
  return { mine: { ...typed, practices: table }, theirs: withTheirs, conflicts };
}

/** The form of a draft: what is typed is kept in this browser until it is saved. */
function useDraftForm(version: Whole) {
  const [fault, setFault] = useState<string | null>(null);
  const [conflicts, setConflicts] = useState<string[]>([]);
  const kept = useKeptForm<PracticesPolicy>({
    name: `policy-${version.id}`,
    now: read(version),
    title: (field) => (policyFields as Record<string, { title?: string }>)[field]?.title ?? field,
    resolver: resolverOf(Fields, lists),
    say: inWords(conflicts),
  });
  const { form, edit, put } = kept;
  const act = useAct(editPolicy, {
    done: (saved) => kept.begin(read(saved)),
    failed: (f) => {
      // two people at different practices keep both: only what both answered otherwise is asked about
      const merged = mergeInto(f, edit.begun.values, form.getValues());
      if (merged) put('practices', merged.mine.practices);
      setConflicts(merged?.conflicts ?? []);
      const theirs = (current: unknown) => {
        const now = read(current);
        return merged ? { ...now, values: { ...now.values, practices: merged.theirs } } : now;
      };
      if (!edit.overtake(f, theirs, merged?.mine ?? form.getValues(), put))
        setFault(placeFaults(f, form.setError, Object.keys(policyFields), lists));
    },
  });
  const save = async (): Promise<Whole | null> => {
    if (!form.formState.isDirty) return version;
    let saved: Whole | null = null;
    setFault(null);
    await form.handleSubmit(async (typed) => {
      saved = await act
        .mutateAsync({ params: { id: version.id }, body: { ...typed, version: edit.begun.version } })
        .catch(() => null);
    })();
    return saved;
  };
  return { kept, fault, save, busy: act.isPending };
}

/** The draft: practices first, then the words; rates in braces are filled in when it is read. */
export function PolicyForm({
  version,
  live,
  kinds,
  groups,
  ref,
}: {
  version: Whole;
  live: Record<string, string>;
  kinds: string[];
  groups: Groups;
  ref: Ref<DraftHandle>;
}) {
  const { kept, fault, save, busy } = useDraftForm(version);
  useImperativeHandle(ref, () => ({ save }));
  const { form, edit, put } = kept;
  const { errors, isDirty } = form.formState;
  return (
    <form
      noValidate
      className="max-w-[760px] space-y-5"
      onSubmit={(e) => {
        e.preventDefault();
        void save().then((saved) => saved && toast('Saved'));
      }}
    >
      <Apart>
        <h2 className="text-[20px]!">Draft of version {version.number}</h2>
        <span className="text-ink3">{isDirty ? 'not saved yet; kept in this browser' : ''}</span>
      </Apart>
      <FormFault>{fault}</FormFault>
      {kept.isRestored && <RestoredNote discard={kept.discard} />}
      {edit.note(put)}
      <PracticesTable form={form} groups={groups} />
      <Words form={form} errors={errors} live={live} />
      <Kinds kinds={kinds} form={form} errors={errors} />
      <Goods form={form} />
      <Notice form={form} errors={errors} />
      <Button type="submit" look="main" busy={busy}>
        Save the draft
      </Button>
    </form>
  );
}

const braces = wordsAlone.map((word) => `{${word}}`).join(', ');

/** What is said in words, in the order in which it is read. */
function Words({
  form,
  errors,
  live,
}: {
  form: UseFormReturn<PracticesPolicy>;
  errors: FieldErrors<PracticesPolicy>;
  live: Record<string, string>;
}) {
  const input = { control: form.control, register: form.register, errors };
  return (
    <>
      <Pair>
        <Field name="counts" kind="area" rows={3} schema={policyFields.counts} {...input} />
        <Field name="declined" kind="area" rows={3} schema={policyFields.declined} {...input} />
      </Pair>
      <Field
        name="channels"
        schema={policyFields.channels}
        label="Other channels that sales are compared against"
        {...input}
      />
      <Field name="branding" kind="area" rows={3} schema={policyFields.branding} {...input} />
      <Field
        name="owed"
        kind="area"
        rows={3}
        schema={policyFields.owed}
        {...input}
        hint={`What changes by itself stands in braces: ${braces}; the rate or price of a product with its code, as {rate WHEEL-1}.`}
      />
      <ReadsNow text={form.watch('owed')} live={live} />
      <Field name="general" kind="area" rows={7} schema={policyFields.general} {...input} />
      <ReadsNow text={form.watch('general')} live={live} />
    </>
  );
}
