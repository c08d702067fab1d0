import { editRecruiting } from '../../../../contract/setup/settings';
import { categories } from '../../../../core/recruiting/kinds';
import { DottedItem } from '../../../kit/dotted';
import { Field } from '../../../kit/form';
import { Hint } from '../../../kit/note';
import { Select } from '../../../kit/select';
import { Small } from '../../../kit/text';
import { Legend } from '../../../kit/ticks';
import { picked, SettingsForm, useSettingsForm, type Of } from './saved-form';

/** Categories, and how applicants and prospects are dealt with. */
export function RecruitingForm({ settings }: { settings: Of }) {
  const p = editRecruiting.body.properties;
  const saved = useSettingsForm(editRecruiting, settings, {
    values: (read) => picked(read, 'categories', 'vouchedIn', 'refundLine', 'inviteDays', 'messagesPerDay'),
    toBody: (v, version) => ({ ...v, version }),
  });
  const { form, bound: input, may } = saved;
  const { watch, setValue } = form;
  const chosen = watch('categories');
  const set = (list: string[]) => setValue('categories', list, { shouldDirty: true });
  return (
    <SettingsForm saved={saved} className="grid w-[520px] gap-y-4">
      <Categories chosen={chosen} set={set} disabled={!may} />
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1 accent-copper"
          disabled={!may}
          {...input.register('vouchedIn')}
        />
        <span>
          Let in whom the registry vouches for, after hold
          <Small below>
            By the host of the e-mail address; what the vouching rests on is kept with the decision.
          </Small>
        </span>
      </label>
      <Field
        name="refundLine"
        schema={p.refundLine}
        unit="%"
        {...input}
        hint="Above it applicants are marked, and trust lapses"
      />
      <Field name="inviteDays" kind="number" schema={p.inviteDays} {...input} />
      <Field
        name="messagesPerDay"
        kind="number"
        schema={p.messagesPerDay}
        {...input}
        hint="Questions and invitations together"
      />
    </SettingsForm>
  );
}

/** What the programme is about, the main category first; at most four. */
function Categories({
  chosen,
  set,
  disabled,
}: {
  chosen: string[];
  set: (chosen: string[]) => void;
  disabled: boolean;
}) {
  return (
    <fieldset disabled={disabled}>
      <Legend>Categories, the main one first</Legend>
      {chosen.length > 0 && (
        <ol className="mt-1">
          {chosen.map((c, i) => (
            <DottedItem key={c} apart>
              <span>
                {i === 0 ? <b className="font-semibold">{c}</b> : c}
                {i === 0 && <span className="text-ink3"> main</span>}
              </span>
              <span className="flex gap-3">
                {i > 0 && (
                  <button
                    type="button"
                    className="link"
                    onClick={() => set([c, ...chosen.filter((x) => x !== c)])}
                  >
                    make it the main one
                  </button>
                )}
                <button
                  type="button"
                  className="link"
                  aria-label={`Remove ${c}`}
                  onClick={() => set(chosen.filter((x) => x !== c))}
                >
                  remove
                </button>
              </span>
            </DottedItem>
          ))}
        </ol>
      )}
      {chosen.length < 4 && (
        <Select
          label="Add a category"
          value=""
          options={[
            ['', 'add one…'],
            ...categories.filter((c) => !chosen.includes(c)).map((c) => [c, c] as const),
          ]}
          onPick={(c) => set([...chosen, c])}
          className="mt-1 w-auto"
        />
      )}
      <Hint className="mt-1">Your entries in catalogues are listed under them.</Hint>
    </fieldset>
  );
}
