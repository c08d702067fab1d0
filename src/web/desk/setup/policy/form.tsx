import { useState } from 'react';
import { type FieldErrors, type UseFormReturn } from 'react-hook-form';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { editPolicy, policyFields, type readPolicy } from '../../../../contract/setup/policy';
import { closed } from '../../../../contract/shared';
import type { PolicyContent } from '../../../../core/recruiting/policy';
import { counted } from '../../../../core/text/counted';
import { fillIn } from '../../../../core/text/live';
import { useAct } from '../../../kit/act';
import { type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Field, FormFault, placeFaults, resolverOf } from '../../../kit/form';
import { useKeptForm } from '../../../kit/kept-form';
import { Apart, Pair } from '../../../kit/layout';
import { Hint, Wrong } from '../../../kit/note';
import { SelectOf } from '../../../kit/picked-fields';
import { RestoredNote } from '../../../kit/restored';
import { SelectField } from '../../../kit/select';
import { Small } from '../../../kit/text';

type Whole = ReplyOf<typeof readPolicy>;
const Fields = closed(policyFields);
const facts: [
  name: 'ownBrand' | 'misspellings' | 'directLinking' | 'ageRestricted' | 'regulated',
  text: string,
][] = [
  ['ownBrand', 'May they bid on your name?'],
  ['misspellings', 'On misspellings of it?'],
  ['directLinking', 'Link advertisements straight to you?'],
  ['ageRestricted', 'Are the goods age-restricted?'],
  ['regulated', 'Is the trade regulated?'],
];

/** The draft: yes and no first, then the words; rates in braces are filled in when it is read. */
export function PolicyForm({
  version,
  live,
  kinds,
}: {
  version: Whole;
  live: Record<string, string>;
  kinds: string[];
}) {
  const [fault, setFault] = useState<string | null>(null);
  const kept = useKeptForm<PolicyContent>({
    name: `policy-${version.id}`,
    now: { values: version.content, version: version.version },
    title: (field) => (policyFields as Record<string, { title?: string }>)[field]?.title ?? field,
    resolver: resolverOf(Fields),
  });
  const { form, edit, put } = kept;
  const {
    register,
    handleSubmit,
    setError,
    watch,
    setValue,
    formState: { errors, isDirty },
  } = form;
  const save = useAct(editPolicy, {
    done: (saved) => {
      kept.begin(read(saved));
      toast('Saved');
    },
    failed: (f) => {
      if (!edit.overtake(f, read, form.getValues(), put))
        setFault(placeFaults(f, setError, Object.keys(policyFields)));
    },
  });
  const read = (current: unknown): Begun<PolicyContent> => ({
    values: (current as Whole).content,
    version: (current as Whole).version,
  });
  const input = { control: form.control, register, errors };
  const values = watch();
  const toggle = (list: 'accepted' | 'refused', kind: string) =>
    setValue(
      list,
      values[list].includes(kind) ? values[list].filter((k) => k !== kind) : [...values[list], kind],
      { shouldDirty: true },
    );
  const general = fillIn(values.general, live);
  return (
    <form
      noValidate
      className="max-w-[760px] space-y-5"
      onSubmit={(e) =>
        void handleSubmit((v) => {
          setFault(null);
          save.mutate({ params: { id: version.id }, body: { ...v, version: edit.begun.version } });
        })(e)
      }
    >
      <Apart>
        <h2 className="text-[20px]!">Draft of version {version.number}</h2>
        <span className="text-ink3">{isDirty ? 'not saved yet; kept in this browser' : ''}</span>
      </Apart>
      <FormFault>{fault}</FormFault>
      {kept.isRestored && <RestoredNote discard={kept.discard} />}
      {edit.note(put)}
      <Facts values={values} form={form} />
      <Kinds kinds={kinds} values={values} toggle={toggle} errors={errors} />
      <Field
        name="general"
        kind="area"
        rows={7}
        schema={policyFields.general}
        {...input}
        hint="Rates can stand in braces: {rate}, {rate WHEEL-1}, {window}. They are filled in when it is read."
      />
      <ReadsNow values={values} general={general} />
      <Field name="search" kind="area" rows={3} schema={policyFields.search} {...input} />
      <Pair>
        <Field name="counts" kind="area" rows={3} schema={policyFields.counts} {...input} />
        <Field name="declined" kind="area" rows={3} schema={policyFields.declined} {...input} />
      </Pair>
      <Field name="branding" kind="area" rows={3} schema={policyFields.branding} {...input} />
      <Field name="kinds" kind="area" rows={2} schema={policyFields.kinds} {...input} />
      <Field
        name="channels"
        schema={policyFields.channels}
        label="Other channels that sales are compared against"
        {...input}
      />
      <Notice values={values} input={input} form={form} />
      <Button type="submit" look="main" busy={save.isPending}>
        Save the draft
      </Button>
    </form>
  );
}

/** How long a change is announced, and what follows at its end. */
function Notice({
  values,
  input,
  form,
}: {
  values: PolicyContent;
  input: Pick<UseFormReturn<PolicyContent>, 'control' | 'register'> & { errors: FieldErrors<PolicyContent> };
  form: UseFormReturn<PolicyContent>;
}) {
  const { setValue } = form;
  return (
    <Pair>
      <SelectField
        label="Notice for the next change"
        value={String(values.noticeWeeks)}
        options={[1, 2, 3, 4].map((n) => [String(n), counted(n, 'week')] as const)}
        onPick={(weeks) => setValue('noticeWeeks', Number(weeks), { shouldDirty: true })}
      />
      <SelectOf
        name="atEnd"
        schema={policyFields.atEnd}
        label="At its end, who has not accepted is"
        options={[
          ['remind', 'reminded'],
          ['hold-pay', 'not paid until it does'],
          ['pause', 'paused until it does'],
        ]}
        {...input}
      />
    </Pair>
  );
}

/** The words with what stands in braces filled in. */
function ReadsNow({ values, general }: { values: PolicyContent; general: ReturnType<typeof fillIn> }) {
  if (!values.general.includes('{')) return null;
  return (
    <p className="border-l-[3px] border-rule pl-3 text-ink2" aria-label="As it reads now">
      <Small>reads now: </Small>
      {general.text.slice(0, 400)}
      {general.unknown.length > 0 && (
        <span className="text-madder"> {general.unknown.join(', ')} cannot be filled in</span>
      )}
    </p>
  );
}

/** Which kinds of affiliates are looked for, and which are not taken. */
function Kinds({
  kinds,
  values,
  toggle,
  errors,
}: {
  kinds: string[];
  values: PolicyContent;
  toggle: (list: 'accepted' | 'refused', kind: string) => void;
  errors: FieldErrors<PolicyContent>;
}) {
  return (
    <fieldset>
      <legend className="font-semibold">Kinds of affiliates</legend>
      <Hint>A mismatch shows at the application. Press once for looked for, again for not taken.</Hint>
      <div className="mt-1 flex flex-wrap gap-2">
        {kinds.map((k) => {
          const is = values.accepted.includes(k)
            ? 'looked for'
            : values.refused.includes(k)
              ? 'not taken'
              : '';
          return (
            <button
              key={k}
              type="button"
              aria-label={`${k}: ${is || 'neither'}`}
              onClick={() => {
                if (is === '') toggle('accepted', k);
                else {
                  if (is === 'looked for') toggle('accepted', k);
                  toggle('refused', k);
                }
              }}
              className={`rounded-sm border px-2 py-[2px] ${is === 'looked for' ? 'border-verdigris bg-verdigris-wash text-verdigris' : is === 'not taken' ? 'border-madder bg-madder-wash text-madder line-through' : 'border-rule text-ink2'}`}
            >
              {k}
              {is && <span className="text-[11px]"> {is}</span>}
            </button>
          );
        })}
      </div>
      {errors.refused && <Wrong role="alert">{(errors.refused as { message?: string }).message}</Wrong>}
    </fieldset>
  );
}

/** What is answered with yes or no. */
function Facts({ values, form }: { values: PolicyContent; form: UseFormReturn<PolicyContent> }) {
  const { setValue } = form;
  return (
    <fieldset>
      <legend className="font-semibold">Yes or no</legend>
      {facts.map(([field, text]) => (
        <div key={field} className="flex justify-between border-b border-dotted border-rule py-1">
          <span>{text}</span>
          <span role="radiogroup" aria-label={text} className="flex gap-4">
            {[true, false].map((v) => (
              <label key={String(v)} className="flex items-center gap-1">
                <input
                  type="radio"
                  name={field}
                  checked={values[field] === v}
                  onChange={() => setValue(field, v, { shouldDirty: true })}
                />{' '}
                {v ? 'yes' : 'no'}
              </label>
            ))}
          </span>
        </div>
      ))}
    </fieldset>
  );
}
