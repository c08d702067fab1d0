import { editTermsSettings } from '../../../../contract/setup/settings';
import { counted } from '../../../../core/text/counted';
import { Field } from '../../../kit/form';
import { SelectOf } from '../../../kit/picked-fields';
import { Day } from '../../../kit/text';
import { picked, SettingsForm, useSettingsForm, type Of } from './saved-form';

export function TermsForm({ settings }: { settings: Of }) {
  const p = editTermsSettings.body.properties;
  const { base } = settings;
  const saved = useSettingsForm(editTermsSettings, settings, {
    values: (read) =>
      picked(
        read,
        'noticeWeeks',
        'lowEarning',
        'feePercent',
        'feeFixed',
        'clicksPerAddress',
        'referralPercent',
        'referralOf',
        'referralMonths',
      ),
    toBody: (v, version) => ({ ...v, version }),
  });
  const { bound: input } = saved;
  return (
    <SettingsForm saved={saved}>
      <Field
        name="noticeWeeks"
        kind="number"
        schema={p.noticeWeeks}
        {...input}
        unit="weeks"
        hint={
          settings.noticeKept ? (
            <>
              Until <Day at={settings.noticeKept.until} /> the earlier notice of{' '}
              {counted(settings.noticeKept.weeks, 'week')} is kept
            </>
          ) : (
            'A change that pays affiliates less cannot begin sooner. A raise can. A shorter notice takes effect when the present one has ended'
          )
        }
      />
      <Field
        name="lowEarning"
        schema={p.lowEarning}
        {...input}
        unit={base}
        hint="A sale that earns an affiliate less is pointed out: nobody would promote it"
      />
      <Field
        name="clicksPerAddress"
        schema={p.clicksPerAddress}
        {...input}
        hint="Where a rate pays for clicks: so many of one network address on a product earn a day, the rest are recorded with the reason. Empty: no limit"
      />
      <Field
        name="feePercent"
        schema={p.feePercent}
        {...input}
        unit="%"
        hint="What taking a payment costs you; used where a sale’s margin is shown"
      />
      <Field name="feeFixed" schema={p.feeFixed} {...input} unit={base} hint="The same, per payment" />
      <h2 className="col-span-2 mt-2 border-b border-rule pb-1">Bringing others in</h2>
      <Field
        name="referralPercent"
        schema={p.referralPercent}
        label="An affiliate who brings another in gets"
        {...input}
        unit="%"
        hint="Of each sale of that one, on top of its commission and out of your part; empty = nothing. One level only"
      />
      <SelectOf
        name="referralOf"
        schema={p.referralOf}
        {...input}
        options={[
          ['commission', 'of the commission'],
          ['sale', 'of the sale'],
        ]}
      />
      <Field
        name="referralMonths"
        schema={p.referralMonths}
        label="For so many months from joining"
        {...input}
        hint="Empty = for as long as both are with you. A change holds for those who join from now on"
      />
      <span />
    </SettingsForm>
  );
}
