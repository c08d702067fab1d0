import { editMoney } from '../../../../contract/setup/settings';
import { Field } from '../../../kit/form';
import { useMay } from '../../roles';
import { SaveButton, useSettingsForm, type Of } from './saved-form';

export function MoneyForm({ of }: { of: Of }) {
  const may = useMay()(editMoney);
  const p = editMoney.body.properties;
  const { base } = of;
  const { form, save, fault } = useSettingsForm(editMoney, of, {
    values: ({
      bufferDays,
      clearing,
      minimumPayout,
      approvalAbove,
      promiseDays,
      debtorName,
      debtorIban,
    }) => ({ bufferDays, clearing, minimumPayout, approvalAbove, promiseDays, debtorName, debtorIban }),
    toBody: (v, version) => ({ ...v, version }),
  });
  const {
    register,
    formState: { errors },
  } = form;
  const input = { register, errors, disabled: !may };
  return (
    <form
      noValidate
      className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4"
      onSubmit={(e) => void save(e)}
    >
      <div className="col-span-2">{fault}</div>
      <Field
        name="clearing"
        kind="select"
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
      {may && <SaveButton form={form} />}
    </form>
  );
}
