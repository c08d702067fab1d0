import { editMoney } from '../../../../contract/setup/settings';
import { Field } from '../../../kit/form';
import { SelectOf } from '../../../kit/picked-fields';
import { picked, SettingsForm, useSettingsForm, type Of } from './saved-form';

export function MoneyForm({ settings }: { settings: Of }) {
  const p = editMoney.body.properties;
  const { base } = settings;
  const saved = useSettingsForm(editMoney, settings, {
    values: (read) =>
      picked(
        read,
        'bufferDays',
        'clearing',
        'minimumPayout',
        'approvalAbove',
        'promiseDays',
        'debtorName',
        'debtorIban',
      ),
    toBody: (v, version) => ({ ...v, version }),
  });
  const { bound: input } = saved;
  return (
    <SettingsForm saved={saved}>
      <SelectOf
        name="clearing"
        schema={p.clearing}
        options={[
          ['automatic', 'By itself on the clearing date'],
          ['person', 'By a person after it'],
        ]}
        {...input}
      />
      <Field
        name="bufferDays"
        kind="number"
        schema={p.bufferDays}
        {...input}
        unit="days"
        hint="Clearing date = sale + refund window + this"
      />
      <Field name="minimumPayout" schema={p.minimumPayout} {...input} unit={base} />
      <Field
        name="approvalAbove"
        schema={p.approvalAbove}
        {...input}
        unit={base}
        hint="Whoever drafted such a run cannot approve it; empty = one person is enough"
      />
      <Field
        name="promiseDays"
        kind="number"
        schema={p.promiseDays}
        {...input}
        unit="days"
        hint="The date that payees are told"
      />
      <span />
      <Field
        name="debtorName"
        schema={p.debtorName}
        {...input}
        hint="Of the account that payouts are made from"
      />
      <Field name="debtorIban" schema={p.debtorIban} {...input} />
    </SettingsForm>
  );
}
