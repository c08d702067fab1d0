import { useState } from 'react';
import { toast } from 'sonner';
import { largestPicture } from '../../../../contract/setup/products';
import { dropLogo, editProgramme, setLogo } from '../../../../contract/setup/settings';
import { fillIn } from '../../../../core/text/live';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { Field } from '../../../kit/form';
import { FieldName } from '../../../kit/labelled';
import { Hint, Wrong } from '../../../kit/note';
import { Select } from '../../../kit/select';
import { Choose } from '../../../kit/upload';
import { SettingsForm, useSettingsForm, type Of } from './saved-form';

/** Name, introduction, the rate for everything without one, windows and hosts. */
export function ProgrammeForm({ settings }: { settings: Of }) {
  const p = editProgramme.body.properties;
  const saved = useSettingsForm(editProgramme, settings, {
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
  const { form, bound: input, may } = saved;
  return (
    <SettingsForm saved={saved}>
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
          <PutIn
            live={settings.live}
            onPick={(word) =>
              form.setValue('intro', `${form.getValues('intro').trimEnd()} {${word}}`.trimStart(), {
                shouldDirty: true,
              })
            }
          />
        )}
        <LivePreview text={form.watch('intro')} values={settings.live} />
      </div>
      <LogoField settings={settings} may={may} />
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
    </SettingsForm>
  );
}

/** Words that are filled in when somebody reads them, each with what it would be now. */
function PutIn({ live, onPick }: { live: Record<string, string>; onPick: (word: string) => void }) {
  return (
    <span className="mt-1 block text-ink2">
      Put in{' '}
      <Select
        label="Put in"
        value=""
        options={[
          ['', 'what is true at the time…'],
          ...Object.entries(live).map(([word, now]) => [word, `${word}: ${now} now`] as const),
        ]}
        onPick={onPick}
        className="w-auto max-w-full"
      />
    </span>
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

function LogoField({ settings, may }: { settings: Of; may: boolean }) {
  const [fault, setFault] = useState<string | null>(null);
  const set = useAct(setLogo, {
    done: () => toast('The logo is kept'),
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It was not uploaded; try again.'),
  });
  const drop = useAct(dropLogo, { done: () => toast('Without a logo') });
  return (
    <div className="col-span-2">
      <FieldName>Logo</FieldName>
      <div className="mt-1 flex items-center gap-4">
        {settings.logo && (
          <img src={settings.logo} alt="The logo" className="max-h-[72px] max-w-[160px] border border-rule" />
        )}
        {may && (
          <Choose
            label={settings.logo ? 'put another in its place' : 'upload one, or drop it here'}
            accept="image/jpeg,image/gif,image/png"
            most={largestPicture}
            busy={set.isPending}
            onFault={setFault}
            onFile={(file) => {
              setFault(null);
              set.mutate({ query: { name: file.name }, file });
            }}
          >
            {settings.logo && (
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
        <Wrong role="alert">{fault}</Wrong>
      ) : (
        <Hint className="mt-1">JPEG, GIF or PNG up to 4 MB; on the join page and in the portal</Hint>
      )}
    </div>
  );
}
