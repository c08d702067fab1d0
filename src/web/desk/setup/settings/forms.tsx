import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, type FieldValues, type Path } from 'react-hook-form';
import { toast } from 'sonner';
import type { AnyEndpoint, BodyOf, ReplyOf } from '../../../../contract/endpoint';
import { largestPicture } from '../../../../contract/setup/products';
import {
  dropLogo,
  editBuyerContacts,
  editMoney,
  editProgramme,
  editRecruiting,
  editTermsSettings,
  setLogo,
  type readProgramme,
} from '../../../../contract/setup/settings';
import { categories } from '../../../../core/recruiting/kinds';
import { fillIn } from '../../../../core/text/live';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { useBegun, useFollow, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { DottedItem } from '../../../kit/dotted';
import { dropDraft, readDraft, useDraft } from '../../../kit/draft';
import { Field, FormFault, placeFaults } from '../../../kit/form';
import { Hint, Note } from '../../../kit/note';
import { useSend } from '../../../kit/send';
import { Choose } from '../../../kit/upload';
import { useMay } from '../../roles';

type Of = ReplyOf<typeof readProgramme>;

interface FormOf<E extends AnyEndpoint, V> {
  /** the values of the form, of settings as they were read */
  values: (of: Of) => V;
  toBody: (values: V, version: number) => BodyOf<E>;
}

/** A settings form: saved by one call, faults at their fields; what is typed is kept in this browser until then, with what it began from. */
function useSettingsForm<E extends AnyEndpoint, V extends FieldValues>(
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
  const schema = (end.body as unknown as { properties: Record<string, { title?: string }> }).properties;
  const edit = useBegun<V>(restored?.begun ?? now, (field) => schema[field]?.title ?? field);
  const form = useForm<V>({
    defaultValues: edit.begun.values as never,
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
  const put = (field: string, value: unknown) =>
    form.setValue(field as Path<V>, value as never, { shouldDirty: true });
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
      const saved = (await send({ body: toBody(typed as V, edit.begun.version) })) as unknown as Of;
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
  const note =
    restored && form.formState.isDirty ? (
      <Note as="div" role="status">
        What you typed last time and did not save is here again.{' '}
        <button type="button" className="link" onClick={discard}>
          Discard it
        </button>
      </Note>
    ) : null;
  return {
    form,
    save,
    fault: (
      <>
        {note}
        {edit.note(put)}
        <FormFault>{fault}</FormFault>
      </>
    ),
  };
}

export function ProgrammeForm({ of }: { of: Of }) {
  const may = useMay()(editProgramme);
  const p = editProgramme.body.properties;
  const { form, save, fault } = useSettingsForm(editProgramme, of, {
    values: ({ name, contact, intro, summary, rate, windowDays, landingHosts, logDays }) => ({
      name,
      contact,
      intro,
      summary,
      rate,
      windowDays,
      logDays: logDays ?? 180,
      landingHosts: landingHosts.join('\n'),
    }),
    toBody: (v, version) => ({ ...v, landingHosts: v.landingHosts.split(/[\s,]+/).filter(Boolean), version }),
  });
  const {
    register,
    formState: { errors, isSubmitting, isDirty },
  } = form;
  const input = { register, errors, disabled: !may };
  return (
    <form
      noValidate
      className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4"
      onSubmit={(e) => void save(e)}
    >
      <div className="col-span-2">{fault}</div>
      <Field name="name" schema={p.name} {...input} />
      <Field name="contact" kind="email" schema={p.contact} {...input} />
      <div className="col-span-2">
        <Field
          name="summary"
          kind="area"
          schema={p.summary}
          {...input}
          rows={2}
          hint="At most two sentences, for lists of programmes"
        />
      </div>
      <div className="col-span-2">
        <Field
          name="intro"
          kind="area"
          schema={p.intro}
          {...input}
          rows={3}
          hint="On the join page. Words in braces are filled when somebody reads them, so that they never contradict the terms"
        />
        {may && (
          <label className="mt-1 block text-ink2">
            Put in{' '}
            <select
              value=""
              onChange={(e) =>
                form.setValue(
                  'intro',
                  `${form.getValues('intro').trimEnd()} {${e.target.value}}`.trimStart(),
                  { shouldDirty: true },
                )
              }
              className="rounded-sm border border-rule bg-sheet px-1 py-[3px]"
            >
              <option value="">what is true at the time…</option>
              {Object.entries(of.live).map(([k, v]) => (
                <option key={k} value={k}>
                  {k}: {v} now
                </option>
              ))}
            </select>
          </label>
        )}
        <LivePreview text={form.watch('intro')} values={of.live} />
      </div>
      <LogoField of={of} may={may} />
      <Field
        name="rate"
        schema={p.rate}
        {...input}
        unit="%"
        hint="What a sale pays where the product has no commission of its own; empty = nothing"
      />
      <Field
        name="windowDays"
        kind="number"
        schema={p.windowDays}
        {...input}
        unit="days"
        hint="A visit earns a sale this long after it"
      />
      <Field
        name="logDays"
        kind="number"
        schema={p.logDays}
        label="Reports are kept for"
        {...input}
        unit="days"
        hint="In the log of the connection; unconfirmed sales that nobody took up go with them"
      />
      <span />
      <div className="col-span-2">
        <Field
          name="landingHosts"
          kind="area"
          schema={{ ...p.landingHosts, maxLength: 10_000 }}
          label="Hosts that links may lead to"
          {...input}
          rows={3}
          hint="One a line; a product’s sales page adds its own"
        />
      </div>
      {may && (
        <div>
          <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
            Save
          </Button>
        </div>
      )}
    </form>
  );
}

/** A text as it would be read now; what cannot be filled in is marked. */
function LivePreview({ text, values }: { text: string; values: Record<string, string> }) {
  if (!text.includes('{')) return null;
  const { text: read, unknown } = fillIn(text, values);
  return (
    <p className="mt-1 border-l border-rule pl-3 font-serif">
      {read}
      {unknown.length > 0 && (
        <span className="block font-sans text-[12px] text-ochre">
          {unknown.join(', ')}: nothing is known of it
        </span>
      )}
    </p>
  );
}

function LogoField({ of, may }: { of: Of; may: boolean }) {
  const [fault, setFault] = useState<string | null>(null);
  const set = useAct(setLogo, {
    done: () => toast('The logo is kept'),
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It was not uploaded; try again.'),
  });
  const drop = useAct(dropLogo, { done: () => toast('Without a logo') });
  return (
    <div className="col-span-2">
      <span className="block font-semibold text-ink2">Logo</span>
      <div className="mt-1 flex items-center gap-4">
        {of.logo && (
          <img src={of.logo} alt="The logo" className="max-h-[72px] max-w-[160px] border border-rule" />
        )}
        {may && (
          <Choose
            label={of.logo ? 'put another in its place' : 'upload one, or drop it here'}
            accept="image/jpeg,image/gif,image/png"
            most={largestPicture}
            busy={set.isPending}
            onFault={setFault}
            onFile={(file) => {
              setFault(null);
              set.mutate({ query: { name: file.name }, file });
            }}
          >
            {of.logo && (
              <>
                <button type="button" className="link" onClick={() => drop.mutate({})}>
                  remove
                </button>{' '}
                ·{' '}
              </>
            )}
          </Choose>
        )}
      </div>
      {fault ? (
        <p role="alert" className="mt-1 text-madder">
          {fault}
        </p>
      ) : (
        <Hint className="mt-1">JPEG, GIF or PNG up to 4 MB; on the join page and in the portal</Hint>
      )}
    </div>
  );
}

export function TermsForm({ of }: { of: Of }) {
  const may = useMay()(editTermsSettings);
  const p = editTermsSettings.body.properties;
  const { base } = of;
  const { form, save, fault } = useSettingsForm(editTermsSettings, of, {
    values: ({
      noticeWeeks,
      lowEarning,
      feePercent,
      feeFixed,
      clicksPerAddress,
      referralPercent,
      referralOf,
      referralMonths,
    }) => ({
      noticeWeeks,
      lowEarning,
      feePercent,
      feeFixed,
      clicksPerAddress,
      referralPercent,
      referralOf,
      referralMonths,
    }),
    toBody: (v, version) => ({ ...v, version }),
  });
  const {
    register,
    formState: { errors, isSubmitting, isDirty },
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
        name="noticeWeeks"
        kind="number"
        schema={p.noticeWeeks}
        {...input}
        unit="weeks"
        hint="A change that earns somebody less cannot begin sooner; a raise can begin at once"
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
      <Field
        name="referralOf"
        kind="select"
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
      {may && (
        <div>
          <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
            Save
          </Button>
        </div>
      )}
    </form>
  );
}

/** What buyers read, with a preview of each place where they read it. */
export function BuyersForm({ of }: { of: Of }) {
  const may = useMay()(editBuyerContacts);
  const p = editBuyerContacts.body.properties;
  const { form, save, fault } = useSettingsForm(editBuyerContacts, of, {
    values: ({ brand, supportAddress, supportPage, supportPhone }) => ({
      brand,
      supportAddress,
      supportPage,
      supportPhone,
    }),
    toBody: (v, version) => ({ ...v, version }),
  });
  const {
    register,
    watch,
    formState: { errors, isSubmitting, isDirty },
  } = form;
  const input = { register, errors, disabled: !may };
  const v = watch();
  const ask = [v.supportAddress || of.contact, v.supportPage, v.supportPhone].filter(Boolean).join(' · ');
  const called = v.brand || of.name;
  return (
    <div className="flex flex-wrap gap-8">
      <form noValidate className="grid w-[420px] gap-y-4" onSubmit={(e) => void save(e)}>
        {fault}
        <Field name="brand" schema={p.brand} {...input} hint={`Empty = ${of.name}`} />
        <Field
          name="supportAddress"
          kind="email"
          schema={p.supportAddress}
          {...input}
          hint="Buyers write here; a product may have its own"
        />
        <Field name="supportPage" schema={p.supportPage} {...input} hint="If you have one" />
        <Field name="supportPhone" schema={p.supportPhone} {...input} hint="If you answer one" />
        {may && (
          <div>
            <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
              Save
            </Button>
          </div>
        )}
      </form>
      <section aria-label="Where buyers read it" className="w-[380px] space-y-4">
        <h2>Where buyers read it</h2>
        <figure>
          <figcaption className="text-ink3">On the confirmation page and the receipt</figcaption>
          <div className="border border-rule bg-sheet px-3 py-2">
            <p className="font-serif text-[15.5px] font-semibold">{called}</p>
            <p className="mt-1">Thank you. Order Q-10042 has arrived.</p>
            <p className="mt-1 text-ink2">Questions about it: {ask}</p>
          </div>
        </figure>
        <figure>
          <figcaption className="text-ink3">In the notice before a renewal</figcaption>
          <div className="border border-rule bg-sheet px-3 py-2">
            <p>Your subscription renews in three days.</p>
            <p className="mt-1">If you do not want that, tell us before then: {ask}.</p>
            <p className="mt-1">{called}</p>
          </div>
        </figure>
        <figure>
          <figcaption className="text-ink3">On the page from which a file is downloaded</figcaption>
          <div className="border border-rule bg-sheet px-3 py-2">
            <p className="text-ink2">
              From {called}. Does it not arrive? {ask}
            </p>
          </div>
        </figure>
      </section>
    </div>
  );
}

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
    formState: { errors, isSubmitting, isDirty },
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
      {may && (
        <div>
          <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
            Save
          </Button>
        </div>
      )}
    </form>
  );
}

/** Categories, and how applicants and prospects are dealt with. */
export function RecruitingForm({ of }: { of: Of }) {
  const may = useMay()(editRecruiting);
  const p = editRecruiting.body.properties;
  const { form, save, fault } = useSettingsForm(editRecruiting, of, {
    values: ({ categories: chosen, vouchedIn, refundLine, inviteDays, messagesPerDay }) => ({
      categories: chosen,
      vouchedIn,
      refundLine,
      inviteDays,
      messagesPerDay,
    }),
    toBody: (v, version) => ({ ...v, version }),
  });
  const {
    register,
    watch,
    setValue,
    formState: { errors, isSubmitting, isDirty },
  } = form;
  const input = { register, errors, disabled: !may };
  const chosen = watch('categories');
  const set = (list: string[]) => setValue('categories', list, { shouldDirty: true });
  return (
    <form noValidate className="grid w-[520px] gap-y-4" onSubmit={(e) => void save(e)}>
      {fault}
      <fieldset disabled={!may}>
        <legend className="font-semibold text-ink2">Categories, the main one first</legend>
        {chosen.length > 0 && (
          <ol className="mt-1">
            {chosen.map((c, i) => (
              <DottedItem key={c} className="flex justify-between">
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
          <select
            aria-label="Add a category"
            value=""
            onChange={(e) => set([...chosen, e.target.value])}
            className="mt-1 rounded-sm border border-rule bg-sheet px-2 py-[5px]"
          >
            <option value="">add one…</option>
            {categories
              .filter((c) => !chosen.includes(c))
              .map((c) => (
                <option key={c}>{c}</option>
              ))}
          </select>
        )}
        <Hint className="mt-1">Your entries in catalogues are listed under them.</Hint>
      </fieldset>
      <label className="flex items-start gap-2">
        <input type="checkbox" className="mt-1 accent-copper" disabled={!may} {...register('vouchedIn')} />
        <span>
          Let in whom the registry vouches for, after hold
          <span className="block text-[12px] text-ink3">
            By the host of the e-mail address; what the vouching rests on is kept with the decision.
          </span>
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
      {may && (
        <div>
          <Button type="submit" look="main" busy={isSubmitting} disabled={!isDirty}>
            Save
          </Button>
        </div>
      )}
    </form>
  );
}
