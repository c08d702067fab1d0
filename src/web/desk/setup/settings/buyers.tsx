import type { ReactNode } from 'react';
import { editBuyerContacts } from '../../../../contract/setup/settings';
import { Field } from '../../../kit/form';
import { Said } from '../../../kit/note';
import { Title } from '../../../kit/text';
import { picked, SettingsForm, useSettingsForm, type Of } from './saved-form';

/** What buyers read, with a preview of each place where they read it. */
export function BuyersForm({ settings }: { settings: Of }) {
  const p = editBuyerContacts.body.properties;
  const saved = useSettingsForm(editBuyerContacts, settings, {
    values: (read) => picked(read, 'brand', 'supportAddress', 'supportPage', 'supportPhone'),
    toBody: (v, version) => ({ ...v, version }),
  });
  const { form, bound: input } = saved;
  const { watch } = form;
  const v = watch();
  const ask = [v.supportAddress || settings.contact, v.supportPage, v.supportPhone]
    .filter(Boolean)
    .join(' · ');
  return (
    <div className="flex flex-wrap gap-8">
      <SettingsForm saved={saved} className="grid w-[420px] gap-y-4">
        <Field name="brand" schema={p.brand} {...input} hint={`Empty = ${settings.name}`} />
        <Field
          name="supportAddress"
          kind="email"
          schema={p.supportAddress}
          {...input}
          hint="Buyers write here; a product may have its own"
        />
        <Field name="supportPage" schema={p.supportPage} {...input} hint="If you have one" />
        <Field name="supportPhone" schema={p.supportPhone} {...input} hint="If you answer one" />
      </SettingsForm>
      <WhereRead called={v.brand || settings.name} ask={ask} />
    </div>
  );
}

/** The places where buyers read it. */
function WhereRead({ called, ask }: { called: string; ask: string }) {
  return (
    <section aria-label="Where buyers read it" className="w-[380px] space-y-4">
      <h2>Where buyers read it</h2>
      <figure>
        <figcaption className="text-ink3">On the confirmation page and the receipt</figcaption>
        <Paper>
          <p>
            <Title>{called}</Title>
          </p>
          <p className="mt-1">Thank you. Order Q-10042 has arrived.</p>
          <Said>Questions about it: {ask}</Said>
        </Paper>
      </figure>
      <figure>
        <figcaption className="text-ink3">In the notice before a renewal</figcaption>
        <Paper>
          <p>Your subscription renews in three days.</p>
          <p className="mt-1">If you do not want that, tell us before then: {ask}.</p>
          <p className="mt-1">{called}</p>
        </Paper>
      </figure>
      <figure>
        <figcaption className="text-ink3">On the page from which a file is downloaded</figcaption>
        <Paper>
          <p className="text-ink2">
            From {called}. Does it not arrive? {ask}
          </p>
        </Paper>
      </figure>
    </section>
  );
}

/** How it looks where it is read. */
function Paper({ children }: { children: ReactNode }) {
  return <div className="border border-rule bg-sheet px-3 py-2">{children}</div>;
}
