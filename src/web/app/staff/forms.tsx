import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { FieldValues } from 'react-hook-form';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import type { AnyEndpoint, BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { readProgramme } from '../../../contract/staff';
import { editBuyerContacts, editMoney, editProgramme, editTermsSettings } from '../../../contract/staff';
import { call } from '../../kit/api';
import { Button } from '../../kit/button';
import { Field, FormFault, placeFaults } from '../../kit/form';
import { useMay } from '../roles';

type Of = ReplyOf<typeof readProgramme>;

/** A settings form: saved by one call, faults at their fields. */
function useSettingsForm<E extends AnyEndpoint, V extends FieldValues>(end: E, defaults: V, toBody: (values: V) => BodyOf<E>, fields: string[]) {
  const queries = useQueryClient();
  const [fault, setFault] = useState<string | null>(null);
  const form = useForm<V>({ defaultValues: defaults as never });
  const save = form.handleSubmit(async (values) => {
    setFault(null);
    try {
      await call(end, { body: toBody(values as V) });
      await queries.invalidateQueries();
      toast('Saved');
    } catch (thrown) {
      setFault(placeFaults(thrown, form.setError, fields));
    }
  });
  return { form, save, fault };
}

export function ProgrammeForm({ of }: { of: Of }) {
  const may = useMay()(editProgramme);
  const p = editProgramme.body.properties;
  const { name, contact, intro, rate, windowDays, landingHosts, version } = of;
  const { form, save, fault } = useSettingsForm(editProgramme, { name, contact, intro, rate, windowDays, landingHosts: landingHosts.join('\n') },
    (v) => ({ ...v, landingHosts: v.landingHosts.split(/[\s,]+/).filter(Boolean), version }), ['name', 'contact', 'intro', 'rate', 'windowDays', 'landingHosts']);
  const { register, formState: { errors, isSubmitting, isDirty } } = form;
  const input = { register, errors, disabled: !may };
  return (
    <form noValidate className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4" onSubmit={(e) => void save(e)}>
      <div className="col-span-2"><FormFault>{fault}</FormFault></div>
      <Field name="name" schema={p.name} {...input} /><Field name="contact" kind="email" schema={p.contact} {...input} />
      <div className="col-span-2"><Field name="intro" kind="area" schema={p.intro} {...input} rows={3} hint="On the join page" /></div>
      <Field name="rate" schema={p.rate} {...input} unit="%" hint="What a sale pays where the product has no commission of its own; empty = nothing" />
      <Field name="windowDays" kind="number" schema={p.windowDays} {...input} unit="days" hint="A visit earns a sale this long after it" />
      <div className="col-span-2"><Field name="landingHosts" kind="area" schema={{ ...p.landingHosts, maxLength: 10_000 }} label="Hosts that links may lead to" {...input} rows={3} hint="One a line; a product’s sales page adds its own" /></div>
      {may && <div><Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>Save</Button></div>}
    </form>
  );
}

export function TermsForm({ of }: { of: Of }) {
  const may = useMay()(editTermsSettings);
  const p = editTermsSettings.body.properties;
  const { noticeWeeks, lowEarning, feePercent, feeFixed, referralPercent, referralOf, referralMonths, version, base } = of;
  const { form, save, fault } = useSettingsForm(editTermsSettings, { noticeWeeks, lowEarning, feePercent, feeFixed, referralPercent, referralOf, referralMonths }, (v) => ({ ...v, version }), ['noticeWeeks', 'lowEarning', 'feePercent', 'feeFixed', 'referralPercent', 'referralOf', 'referralMonths']);
  const { register, formState: { errors, isSubmitting, isDirty } } = form;
  const input = { register, errors, disabled: !may };
  return (
    <form noValidate className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4" onSubmit={(e) => void save(e)}>
      <div className="col-span-2"><FormFault>{fault}</FormFault></div>
      <Field name="noticeWeeks" kind="number" schema={p.noticeWeeks} {...input} unit="weeks" hint="A change that earns somebody less cannot begin sooner; a raise can begin at once" />
      <Field name="lowEarning" schema={p.lowEarning} {...input} unit={base} hint="A sale that earns an affiliate less is pointed out: nobody would promote it" />
      <Field name="feePercent" schema={p.feePercent} {...input} unit="%" hint="What taking a payment costs you; used where a sale’s margin is shown" /><Field name="feeFixed" schema={p.feeFixed} {...input} unit={base} hint="The same, per payment" />
      <h2 className="col-span-2 mt-2 border-b border-rule pb-1">Bringing others in</h2>
      <Field name="referralPercent" schema={p.referralPercent} label="An affiliate who brings another in gets" {...input} unit="%" hint="Of each sale of that one, on top of its commission and out of your part; empty = nothing. One level only" />
      <Field name="referralOf" kind="select" schema={p.referralOf} {...input} options={[['commission', 'of the commission'], ['sale', 'of the sale']]} />
      <Field name="referralMonths" schema={p.referralMonths} label="For so many months from joining" {...input} hint="Empty = for as long as both are with you. A change holds for those who join from now on" /><span />
      {may && <div><Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>Save</Button></div>}
    </form>
  );
}

/** What buyers read, with a preview of each place where they read it. */
export function BuyersForm({ of }: { of: Of }) {
  const may = useMay()(editBuyerContacts);
  const p = editBuyerContacts.body.properties;
  const { brand, supportAddress, supportPage, supportPhone, version } = of;
  const { form, save, fault } = useSettingsForm(editBuyerContacts, { brand, supportAddress, supportPage, supportPhone }, (v) => ({ ...v, version }), ['brand', 'supportAddress', 'supportPage', 'supportPhone']);
  const { register, watch, formState: { errors, isSubmitting, isDirty } } = form;
  const input = { register, errors, disabled: !may };
  const v = watch();
  const ask = [v.supportAddress || of.contact, v.supportPage, v.supportPhone].filter(Boolean).join(' · ');
  const called = v.brand || of.name;
  return (
    <div className="flex flex-wrap gap-8">
      <form noValidate className="grid w-[420px] gap-y-4" onSubmit={(e) => void save(e)}>
        <FormFault>{fault}</FormFault>
        <Field name="brand" schema={p.brand} {...input} hint={`Empty = ${of.name}`} />
        <Field name="supportAddress" kind="email" schema={p.supportAddress} {...input} hint="Buyers write here; a product may have its own" />
        <Field name="supportPage" schema={p.supportPage} {...input} hint="If you have one" /><Field name="supportPhone" schema={p.supportPhone} {...input} hint="If you answer one" />
        {may && <div><Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>Save</Button></div>}
      </form>
      <section aria-label="Where buyers read it" className="w-[380px] space-y-4">
        <h2>Where buyers read it</h2>
        <figure><figcaption className="text-ink3">On the confirmation page and the receipt</figcaption><div className="border border-rule bg-sheet px-3 py-2"><p className="font-serif text-[15.5px] font-semibold">{called}</p><p className="mt-1">Thank you. Order Q-10042 has arrived.</p><p className="mt-1 text-ink2">Questions about it: {ask}</p></div></figure>
        <figure><figcaption className="text-ink3">In the notice before a renewal</figcaption><div className="border border-rule bg-sheet px-3 py-2"><p>Your subscription renews in three days.</p><p className="mt-1">If you do not want that, tell us before then: {ask}.</p><p className="mt-1">{called}</p></div></figure>
        <figure><figcaption className="text-ink3">On the page from which a file is downloaded</figcaption><div className="border border-rule bg-sheet px-3 py-2"><p className="text-ink2">From {called}. Does it not arrive? {ask}</p></div></figure>
      </section>
    </div>
  );
}

export function MoneyForm({ of }: { of: Of }) {
  const may = useMay()(editMoney);
  const p = editMoney.body.properties;
  const { bufferDays, clearing, minimumPayout, approvalAbove, promiseDays, debtorName, debtorIban, version, base } = of;
  const { form, save, fault } = useSettingsForm(editMoney, { bufferDays, clearing, minimumPayout, approvalAbove, promiseDays, debtorName, debtorIban }, (v) => ({ ...v, version }),
    ['bufferDays', 'clearing', 'minimumPayout', 'approvalAbove', 'promiseDays', 'debtorName', 'debtorIban']);
  const { register, formState: { errors, isSubmitting, isDirty } } = form;
  const input = { register, errors, disabled: !may };
  return (
    <form noValidate className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4" onSubmit={(e) => void save(e)}>
      <div className="col-span-2"><FormFault>{fault}</FormFault></div>
      <Field name="clearing" kind="select" schema={p.clearing} options={[['automatic', 'By itself on the clearing date'], ['person', 'By a person after it']]} {...input} />
      <Field name="bufferDays" kind="number" schema={p.bufferDays} {...input} unit="days" hint="Clearing date = sale + refund window + this" />
      <Field name="minimumPayout" schema={p.minimumPayout} {...input} unit={base} /><Field name="approvalAbove" schema={p.approvalAbove} {...input} unit={base} hint="Whoever drafted such a run cannot approve it; empty = one person is enough" />
      <Field name="promiseDays" kind="number" schema={p.promiseDays} {...input} unit="days" hint="The date that payees are told" /><span />
      <Field name="debtorName" schema={p.debtorName} {...input} hint="Of the account that payouts are made from" /><Field name="debtorIban" schema={p.debtorIban} {...input} />
      {may && <div><Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>Save</Button></div>}
    </form>
  );
}

