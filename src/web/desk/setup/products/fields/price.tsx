import { useFormContext, type Path } from 'react-hook-form';
import { type ProductOut } from '../../../../../contract/setup/products';
import { currencies } from '../../../../../core/money/currency';
import { Field } from '../../../../kit/form';
import { Labelled } from '../../../../kit/labelled';
import { SelectOf } from '../../../../kit/picked-fields';
import { useProgramme } from '../../../../kit/programme';
import { Part, properties, type Bound, type Values } from './part';

const intervals = [
  ['week', 'every week'],
  ['month', 'every month'],
  ['quarter', 'every quarter'],
  ['year', 'every year'],
  ['days', 'every so many days'],
] as const;

/** Price, further currencies, a price that rises, stock. */
export function PricePart({ bound, product }: { bound: Bound; product: ProductOut | null }) {
  const { watch } = useFormContext<Values>();
  const [kind, currency, step] = watch(['kind', 'currency', 'step']);
  const { base } = useProgramme();
  if (kind === 'free') return null;
  const label = kind === 'recurring' ? 'First payment' : kind === 'instalments' ? 'Price in all' : 'Price';
  const further = currencies.filter((c) => ['EUR', 'USD', 'GBP', 'JPY'].includes(c) && c !== currency);
  const prices = (bound.errors.prices as { message?: string } | undefined)?.message;
  return (
    <>
      <Part title="Price">
        <Field
          name="price"
          schema={properties.price}
          label={label}
          {...bound}
          hint={
            kind === 'recurring'
              ? 'A paid trial may cost less than a renewal'
              : kind === 'instalments'
                ? 'Split into payments without a cent lost; the first ones take the cents that do not divide'
                : undefined
          }
        />
        <SelectOf
          name="currency"
          schema={properties.currency}
          options={currencies.map((c) => [c, c] as const)}
          {...bound}
          hint={currency !== base ? `Orders are converted to ${base} at the rate of their day` : undefined}
        />
        {kind === 'instalments' && (
          <Field
            name="instalments"
            kind="number"
            schema={properties.instalments}
            label="Payments"
            {...bound}
            hint="Each is reported with a reference of its own, and pays commission as it comes"
          />
        )}
      </Part>
      <RenewalsPart kind={kind} bound={bound} currency={currency} />
      <MorePrices product={product} further={further} bound={bound} prices={prices} step={step} />
    </>
  );
}

/** What sells abroad, in limited numbers, or dearer with each sale. */
function MorePrices({
  product,
  further,
  bound,
  prices,
  step,
}: {
  product: ProductOut | null;
  further: readonly string[];
  bound: Bound;
  prices: string | undefined;
  step: string | undefined;
}) {
  return (
    <Part
      title="Further currencies, a price that rises, stock"
      open={Boolean(product && (Object.keys(product.prices).length || product.step || product.stock))}
      about="if you sell abroad or in limited numbers"
    >
      <div className="col-span-2 grid grid-cols-3 gap-x-5">
        {further.map((c) => (
          <Labelled key={c}>
            Price in {c}
            <input
              disabled={bound.disabled}
              placeholder={c === 'JPY' ? '14500' : '99.00'}
              {...bound.register(`prices.${c}` as Path<Values>)}
              className="mt-[3px] w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink"
            />
          </Labelled>
        ))}
        <p
          className={`col-span-3 mt-1 text-[12px] ${prices ? 'text-madder' : 'text-ink3'}`}
          role={prices ? 'alert' : undefined}
        >
          {prices ?? 'Buyers are shown their own currency first; empty = not sold in it'}
        </p>
      </div>
      <div className="col-span-2 grid grid-cols-3 gap-x-5">
        <Field
          name="step"
          schema={properties.step}
          {...bound}
          label="The price rises by"
          hint="Empty = it stays"
        />
        {step ? (
          <>
            <Field
              name="stepEvery"
              schema={properties.stepEvery}
              {...bound}
              label="after every so many sales"
            />
            <Field name="stepCeiling" schema={properties.stepCeiling} {...bound} label="up to" />
          </>
        ) : null}
      </div>
      <Field
        name="stock"
        schema={properties.stock}
        {...bound}
        label="Units to sell"
        hint={`Empty = no limit. Sales stop at it; a buyer at checkout keeps a unit for 15 minutes${product ? `. Sold so far: ${product.sold}` : ''}`}
      />
    </Part>
  );
}

/** What renews, how often, and when buyers are told. */
function RenewalsPart({ kind, bound, currency }: { kind: Values['kind']; bound: Bound; currency: string }) {
  const { watch } = useFormContext<Values>();
  if (!(kind === 'recurring')) return null;
  return (
    <Part title="Renewals">
      <Field name="renewalPrice" schema={properties.renewalPrice} {...bound} unit={currency} />
      <SelectOf
        name="interval"
        schema={properties.interval}
        options={intervals}
        {...bound}
        hint="Keeps the day of the month: 31 Jan, 28 Feb, 31 Mar"
      />
      {watch('interval') === 'days' && (
        <Field name="intervalDays" kind="number" schema={properties.intervalDays} {...bound} unit="days" />
      )}
      <Field
        name="trialDays"
        kind="number"
        schema={properties.trialDays}
        {...bound}
        unit="days"
        hint="The first renewal falls due after it; 0 = no trial"
      />
      <Field name="renewals" schema={properties.renewals} {...bound} hint="Empty = until the buyer cancels" />
      <Field
        name="noticeDays"
        kind="number"
        schema={properties.noticeDays}
        {...bound}
        unit="days"
        hint={
          watch('noticeDays') === 0
            ? 'Off: buyers who did not expect a renewal ask for their money back, and that costs commission and trust'
            : 'Buyers are told by mail so many days before; 0 = not told'
        }
      />
      <div className="col-span-2">
        <Field
          name="renewalName"
          schema={properties.renewalName}
          {...bound}
          hint="As the notice before a renewal calls it; empty = the product’s name"
        />
      </div>
      <div className="col-span-2">
        <Field
          name="renewalAbout"
          kind="area"
          rows={2}
          schema={properties.renewalAbout}
          {...bound}
          hint="As buyers read it at checkout and in the notice; empty = the product’s own description at checkout"
        />
      </div>
    </Part>
  );
}
