import { type FieldErrors, type UseFormReturn } from 'react-hook-form';
import { policyFields } from '../../../../contract/setup/policy';
import type { PracticesPolicy } from '../../../../core/recruiting/policy';
import { counted } from '../../../../core/text/counted';
import { fillIn } from '../../../../core/text/live';
import { Pair } from '../../../kit/layout';
import { Hint, Wrong } from '../../../kit/note';
import { SelectOf } from '../../../kit/picked-fields';
import { SelectField } from '../../../kit/select';
import { Small } from '../../../kit/text';

interface Part {
  form: UseFormReturn<PracticesPolicy>;
  errors: FieldErrors<PracticesPolicy>;
}

/** How long a change is announced, and what follows at its end. */
export function Notice({ form, errors }: Part) {
  const input = { control: form.control, register: form.register, errors };
  return (
    <Pair>
      <SelectField
        label="Notice for the next change"
        value={String(form.watch('noticeWeeks'))}
        options={[1, 2, 3, 4].map((n) => [String(n), counted(n, 'week')] as const)}
        onPick={(weeks) => form.setValue('noticeWeeks', Number(weeks), { shouldDirty: true })}
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
export function ReadsNow({ text, live }: { text: string; live: Record<string, string> }) {
  if (!text.includes('{')) return null;
  const filled = fillIn(text, live);
  return (
    <p className="border-l-[3px] border-rule pl-3 text-ink2" aria-label="As it reads now">
      <Small>reads now: </Small>
      <bdi dir="auto">{filled.text.slice(0, 400)}</bdi>
      {filled.unknown.length > 0 && (
        <span className="text-madder"> {filled.unknown.join(', ')} cannot be filled in</span>
      )}
    </p>
  );
}

/** Which kinds of affiliates are looked for, and which are not taken. */
export function Kinds({ kinds, form, errors }: Part & { kinds: string[] }) {
  const values = form.watch();
  const toggle = (list: 'accepted' | 'refused', kind: string) =>
    form.setValue(
      list,
      values[list].includes(kind) ? values[list].filter((k) => k !== kind) : [...values[list], kind],
      { shouldDirty: true },
    );
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

const goods = [
  ['ageRestricted', 'Are the goods age-restricted?'],
  ['regulated', 'Is the trade regulated?'],
] as const;

/** What is sold: yes or no. */
export function Goods({ form }: Pick<Part, 'form'>) {
  const values = form.watch(['ageRestricted', 'regulated']);
  return (
    <fieldset>
      <legend className="font-semibold">Goods and trade</legend>
      {goods.map(([field, text], i) => (
        <div key={field} className="flex justify-between border-b border-dotted border-rule py-1">
          <span>{text}</span>
          <span role="radiogroup" aria-label={text} className="flex gap-4">
            {[true, false].map((v) => (
              <label key={String(v)} className="flex items-center gap-1">
                <input
                  type="radio"
                  name={field}
                  checked={values[i] === v}
                  onChange={() => form.setValue(field, v, { shouldDirty: true })}
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
