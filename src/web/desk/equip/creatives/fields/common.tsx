import { useId } from 'react';
import { momentOfWall, wallOf } from '../../../../../core/calendar/wall';
import { isId } from '../../../../../core/text/id';
import { Field } from '../../../../kit/form';
import { Pair } from '../../../../kit/layout';
import { Wrong } from '../../../../kit/note';
import { useProgramme } from '../../../../kit/programme';
import { Tick, Ticks } from '../../../../kit/ticks';
import { WallField } from '../../../../kit/wall-field';
import { AudienceField } from '../../../shared/audience-field';
import { properties, type Part } from './bound';

/** What every kind has: name, subject, products, landing page, language, who may use it, dates, a note. */
export function CommonFields(part: Part) {
  const { form, disabled, subjects } = part;
  const {
    register,
    formState: { errors },
  } = form;
  const bound = { register, errors, disabled };
  const list = useId();
  return (
    <>
      <Pair>
        <Field name="name" schema={properties.name} {...bound} hint="As affiliates find it" />
        <div>
          <Field
            name="subject"
            schema={properties.subject}
            {...bound}
            list={list}
            hint="One of your own short list, or a new one"
          />
          <datalist id={list}>
            {subjects.map((subject) => (
              <option key={subject} value={subject} />
            ))}
          </datalist>
        </div>
      </Pair>
      <ProductTicks {...part} />
      <Field
        name="landing"
        schema={properties.landing}
        {...bound}
        hint="Empty: the page of its product. Else any page on one of your hosts"
      />
      <AudienceOf {...part} />
      <Dates {...part} />
      <div className="grid grid-cols-[1fr_120px] gap-3">
        <Field
          name="note"
          kind="area"
          rows={2}
          schema={properties.note}
          {...bound}
          hint="Read by affiliates beside the piece"
        />
        <Field name="language" schema={properties.language} {...bound} />
      </div>
    </>
  );
}

function faultOf({ form }: Part, field: 'products' | 'audience' | 'from' | 'until') {
  const message = form.formState.errors[field]?.message;
  return typeof message === 'string' ? <Wrong role="alert">{message}</Wrong> : null;
}

/** The products that it promotes; none for the whole programme. */
function ProductTicks(part: Part) {
  const { form, products, disabled } = part;
  const ticked = form.watch('products');
  return (
    <fieldset disabled={disabled}>
      <Ticks
        legend="Promotes, none ticked for the whole programme"
        options={products.map((p) => [p.id, p.name] as const)}
        ticked={ticked}
        onChange={(ids) =>
          form.setValue(
            'products',
            ids.filter((id) => isId(id, 'product')),
            { shouldDirty: true },
          )
        }
      />
      {faultOf(part, 'products')}
    </fieldset>
  );
}

function AudienceOf(part: Part) {
  const { form, disabled, creative } = part;
  return (
    <div>
      <AudienceField
        value={form.watch('audience')}
        onChange={(audience) => form.setValue('audience', audience, { shouldDirty: true })}
        known={creative?.named ?? []}
        disabled={disabled}
      />
      {faultOf(part, 'audience')}
    </div>
  );
}

function Dates(part: Part) {
  const { form, disabled } = part;
  const { zone } = useProgramme();
  const textOf = (at: number | null) => (at === null ? '' : wallOf(at, zone));
  const put = (field: 'from' | 'until') => (text: string) =>
    form.setValue(field, momentOfWall(text, zone), { shouldDirty: true });
  return (
    <fieldset disabled={disabled} className="space-y-2">
      <Tick
        on={form.watch('active')}
        disabled={disabled}
        onChange={(on) => form.setValue('active', on, { shouldDirty: true })}
      >
        Switched on: off, affiliates do not find it; links that are out lead on all the same
      </Tick>
      <Pair>
        <WallField label="Begins" value={textOf(form.watch('from'))} onChange={put('from')} empty="at once" />
        <WallField
          label="Ends, exclusive"
          value={textOf(form.watch('until'))}
          onChange={put('until')}
          empty="open"
        />
      </Pair>
      {faultOf(part, 'from')}
      {faultOf(part, 'until')}
    </fieldset>
  );
}
