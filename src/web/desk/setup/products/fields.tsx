import type { ReactNode } from 'react';
import { useFormContext, type FieldErrors, type Path, type UseFormRegister } from 'react-hook-form';
import { Link } from 'react-router';
import { ProductIn as Schema, type ProductIn, type ProductOut } from '../../../../contract/setup/products';
import { currencies } from '../../../../core/money/currency';
import { Field } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { useProgramme } from '../../../kit/programme';
import { WallField } from '../../../kit/wall-field';
import { DeliveryFile } from './uploads';

export type Values = ProductIn;
const of = Schema.properties;
export interface Bound {
  register: UseFormRegister<Values>;
  errors: FieldErrors<Values>;
  disabled: boolean;
}

export const kinds = [
  ['one-off', 'Sold once'],
  ['recurring', 'Renews: a subscription or a yearly plan'],
  ['instalments', 'Paid in instalments'],
  ['free', 'Free: earns by the lead'],
] as const;
const intervals = [
  ['week', 'every week'],
  ['month', 'every month'],
  ['quarter', 'every quarter'],
  ['year', 'every year'],
  ['days', 'every so many days'],
] as const;

/** A part of the form; what most products do without is folded away until it is asked for or filled. */
export function Part({
  title,
  about,
  open,
  children,
}: {
  title: string;
  about?: string;
  open?: boolean;
  children: ReactNode;
}) {
  if (open === undefined)
    return (
      <section className="mt-6">
        <h2 className="border-b border-rule pb-1">{title}</h2>
        <div className="mt-3 grid grid-cols-2 gap-x-5 gap-y-4">{children}</div>
      </section>
    );
  return (
    <details className="mt-6" open={open}>
      <summary className="cursor-pointer border-b border-rule pb-1">
        <span className="font-serif text-[15.5px] font-semibold">{title}</span>
        {about && <span className="text-ink3"> · {about}</span>}
      </summary>
      <div className="mt-3 grid grid-cols-2 gap-x-5 gap-y-4">{children}</div>
    </details>
  );
}

function Check({
  name,
  label,
  hint,
  bound,
}: {
  name: Path<Values>;
  label: string;
  hint: string;
  bound: Bound;
}) {
  return (
    <label className="block">
      <span className="flex items-center gap-2 font-semibold text-ink2">
        <input type="checkbox" disabled={bound.disabled} {...bound.register(name)} /> {label}
      </span>
      <span className="mt-[2px] block text-[12px] text-ink3">{hint}</span>
    </label>
  );
}

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
          schema={of.price}
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
        <Field
          name="currency"
          kind="select"
          schema={of.currency}
          options={currencies.map((c) => [c, c] as const)}
          {...bound}
          hint={currency !== base ? `Orders are converted to ${base} at the rate of their day` : undefined}
        />
        {kind === 'instalments' && (
          <Field
            name="instalments"
            kind="number"
            schema={of.instalments}
            label="Payments"
            {...bound}
            hint="Each is reported with a reference of its own, and pays commission as it comes"
          />
        )}
      </Part>
      {kind === 'recurring' && (
        <Part title="Renewals">
          <Field name="renewalPrice" schema={of.renewalPrice} {...bound} unit={currency} />
          <Field
            name="interval"
            kind="select"
            schema={of.interval}
            options={intervals}
            {...bound}
            hint="Keeps the day of the month: 31 Jan, 28 Feb, 31 Mar"
          />
          {watch('interval') === 'days' && (
            <Field name="intervalDays" kind="number" schema={of.intervalDays} {...bound} unit="days" />
          )}
          <Field
            name="trialDays"
            kind="number"
            schema={of.trialDays}
            {...bound}
            unit="days"
            hint="The first renewal falls due after it; 0 = no trial"
          />
          <Field name="renewals" schema={of.renewals} {...bound} hint="Empty = until the buyer cancels" />
          <Field
            name="noticeDays"
            kind="number"
            schema={of.noticeDays}
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
              schema={of.renewalName}
              {...bound}
              hint="As the notice before a renewal calls it; empty = the product’s name"
            />
          </div>
          <div className="col-span-2">
            <Field
              name="renewalAbout"
              kind="area"
              rows={2}
              schema={of.renewalAbout}
              {...bound}
              hint="As buyers read it at checkout and in the notice; empty = the product’s own description at checkout"
            />
          </div>
        </Part>
      )}
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
          <Field name="step" schema={of.step} {...bound} label="The price rises by" hint="Empty = it stays" />
          {step ? (
            <>
              <Field name="stepEvery" schema={of.stepEvery} {...bound} label="after every so many sales" />
              <Field name="stepCeiling" schema={of.stepCeiling} {...bound} label="up to" />
            </>
          ) : null}
        </div>
        <Field
          name="stock"
          schema={of.stock}
          {...bound}
          label="Units to sell"
          hint={`Empty = no limit. Sales stop at it; a buyer at checkout keeps a unit for 15 minutes${product ? `. Sold so far: ${product.sold}` : ''}`}
        />
      </Part>
    </>
  );
}

const rewards = (base: string, kind: string, lead: boolean) => [
  ...(lead ? [] : [['percent', 'Percent of the sale'] as const]),
  ['flat', `Flat, ${base} ${lead ? 'a lead' : 'an order'}`] as const,
  ['none', lead ? 'None' : 'None of its own: the programme’s rate'] as const,
  ...(kind === 'book' ? [['book', 'Order bands, as the rate book says'] as const] : []),
];

/** What the product pays everybody; everything finer is in the rate book. */
export function CommissionPart({ bound, product }: { bound: Bound; product: ProductOut | null }) {
  const { watch } = useFormContext<Values>();
  const { base } = useProgramme();
  const [kind, rewardKind, renewalKind] = watch(['kind', 'rewardKind', 'renewalRewardKind']);
  const lead = kind === 'free';
  return (
    <Part title="Commission">
      <Field
        name="rewardKind"
        kind="select"
        schema={of.rewardKind}
        label={kind === 'recurring' ? 'Commission at first' : 'Commission kind'}
        options={rewards(base, product?.rewardKind ?? '', lead)}
        {...bound}
      />
      {rewardKind === 'percent' || rewardKind === 'flat' ? (
        <Field
          name="reward"
          schema={of.reward}
          label={rewardKind === 'flat' ? `Amount ${lead ? 'a lead' : 'an order'}` : 'Percent'}
          {...bound}
          unit={rewardKind === 'flat' ? base : '%'}
          hint="A change holds from the moment you save; earlier sales keep theirs"
        />
      ) : (
        <span />
      )}
      {(kind === 'recurring' || kind === 'instalments') && (
        <>
          <Field
            name="renewalRewardKind"
            kind="select"
            schema={of.renewalRewardKind}
            label={kind === 'recurring' ? 'On renewals' : 'On further payments'}
            options={rewards(base, product?.renewalRewardKind ?? '', false)}
            {...bound}
          />
          {renewalKind === 'percent' || renewalKind === 'flat' ? (
            <Field
              name="renewalReward"
              schema={of.renewalReward}
              label={renewalKind === 'flat' ? 'Amount a payment' : 'Percent'}
              {...bound}
              unit={renewalKind === 'flat' ? base : '%'}
            />
          ) : (
            <span />
          )}
        </>
      )}
      <p className="col-span-2 text-ink2">
        {product?.locks.length ? (
          <>
            <b className="font-semibold">Locked</b> for{' '}
            {product.locks.map((l) => (l === 'sale' ? 'first payments' : 'renewals')).join(' and ')}: cards,
            groups, tags, personal rates and uplifts are skipped.{' '}
          </>
        ) : (
          ''
        )}
        Bands, caps, ranges of payments, cards, groups and single affiliates are set in the{' '}
        <Link className="link" to="/rates">
          rate book
        </Link>
        .
      </p>
    </Part>
  );
}

/** Pages, launch, delivery, and how it stands before affiliates. */
export function PagesPart({ bound, product }: { bound: Bound; product: ProductOut | null }) {
  const { watch, setValue } = useFormContext<Values>();
  const [delivery, launchAt, recruiting] = watch(['delivery', 'launchAt', 'recruiting']);
  const launch = (bound.errors.launchAt as { message?: string } | undefined)?.message;
  return (
    <>
      <Part title="Pages">
        <div className="col-span-2">
          <Field
            name="salesPage"
            schema={of.salesPage}
            {...bound}
            hint="Where tracking links lead. Its host joins the hosts that links may lead to."
          />
        </div>
      </Part>
      <Part
        title="More pages and a launch"
        open={Boolean(
          product &&
          (product.mobilePage || product.fallbackPage || product.furtherPages || product.prelaunchPage),
        )}
        about="phones, a page while it is not on sale, a page before the launch"
      >
        <Field name="mobilePage" schema={of.mobilePage} {...bound} hint="Phones are led here instead" />
        <Field
          name="fallbackPage"
          schema={of.fallbackPage}
          {...bound}
          hint="Links lead here while the product is paused or retired"
        />
        <div className="col-span-2">
          <Field
            name="furtherPages"
            kind="area"
            rows={2}
            schema={of.furtherPages}
            {...bound}
            hint="One a line; affiliates can link to these as well"
          />
        </div>
        <Field
          name="prelaunchPage"
          schema={of.prelaunchPage}
          {...bound}
          hint="Links lead here until the launch, and the visit is remembered"
        />
        <div>
          <WallField
            label="Launch"
            value={launchAt ?? ''}
            onChange={(v) => setValue('launchAt', v, { shouldDirty: true })}
            empty="on sale as soon as it is live"
          />
          {launch && (
            <p role="alert" className="mt-1 text-madder">
              {launch}
            </p>
          )}
        </div>
      </Part>
      <Part
        title="After the sale"
        open={Boolean(
          product &&
          (product.delivery !== 'none' ||
            product.saleNotice ||
            product.confirmOffer ||
            product.supportAddress ||
            product.receiptNote),
        )}
        about="delivery, support, receipt"
      >
        <Field
          name="delivery"
          kind="select"
          schema={of.delivery}
          options={[
            ['none', 'Nothing to deliver'],
            ['file', 'A file to download'],
            ['access', 'An access page'],
            ['shipped', 'Shipped'],
          ]}
          {...bound}
        />
        {delivery === 'access' ? (
          <Field
            name="accessPage"
            schema={of.accessPage}
            {...bound}
            hint="Buyers are led here after the sale"
          />
        ) : delivery === 'file' ? (
          <Field
            name="downloadDays"
            kind="number"
            schema={of.downloadDays}
            {...bound}
            unit="days"
            hint="Only buyers get the link; after that they ask for a new one"
          />
        ) : (
          <span />
        )}
        {delivery === 'file' && (
          <div className="col-span-2">
            <DeliveryFile product={product} disabled={bound.disabled} />
          </div>
        )}
        {delivery === 'access' && (
          <div className="col-span-2">
            <Field
              name="accessParameters"
              schema={of.accessParameters}
              {...bound}
              label="Details of the sale that are passed on to it"
              hint={`Of order, product, email, quantity. A sample: ${watch('accessPage') || 'https://…'}?${(
                watch('accessParameters') ?? ''
              )
                .split(/[,\s]+/)
                .filter(Boolean)
                .map(
                  (p) =>
                    `${p}=${p === 'email' ? 'ada@buyers.example' : p === 'quantity' ? '1' : p === 'order' ? 'Q-10042' : (product?.code ?? 'WHEEL-1')}`,
                )
                .join('&')}`}
            />
          </div>
        )}
        <Field
          name="supportAddress"
          schema={of.supportAddress}
          {...bound}
          hint="Buyers read it on the receipt; empty = the programme’s contact"
        />
        <Field name="supportPage" schema={of.supportPage} {...bound} />
        <div className="col-span-2">
          <Field name="receiptNote" schema={of.receiptNote} {...bound} hint="A line on the receipt" />
        </div>
        <Check
          name="saleNotice"
          bound={bound}
          label="Tell us of each sale by mail"
          hint={`A message to the programme’s contact for every sale of it`}
        />
        <Check
          name="confirmOffer"
          bound={bound}
          label="Offered on the confirmation page"
          hint="Of other sales, while it is on sale; never to somebody who has just bought it"
        />
        {watch('confirmOffer') && (
          <div className="col-span-2">
            <Field
              name="confirmNotAfter"
              schema={of.confirmNotAfter}
              {...bound}
              hint="Codes, parted by commas: after a sale of these it is not offered"
            />
          </div>
        )}
      </Part>
      <Part
        title="Before affiliates"
        open={Boolean(
          product &&
          (product.categories ||
            product.keywords ||
            product.contentKind ||
            product.recruiting !== 'reviewed' ||
            !product.listed),
        )}
        about="who may promote it, how it is found"
      >
        <Field
          name="recruiting"
          kind="select"
          schema={of.recruiting}
          label="Who may promote it"
          options={[
            ['reviewed', 'Reviewed: a person decides'],
            ['screened', 'Screened: rules decide the clear cases'],
            ['open', 'Open to all: nobody decides'],
            ['none', 'Nobody: without affiliates'],
          ]}
          {...bound}
          hint={
            recruiting === 'screened' ? (
              <>
                By the{' '}
                <Link className="link" to="/applications/rules">
                  screening rules
                </Link>
                ; what none of them decides waits for a person
              </>
            ) : recruiting === 'none' ? (
              'It is sold, and no link to it earns'
            ) : recruiting === 'open' ? (
              'Whoever applies for it is let in at once, always paid after hold; also those whose refunds and tricks you would have seen. Only who is blocked or gone waits for you'
            ) : undefined
          }
        />
        <Check
          name="listed"
          bound={bound}
          label="Listed on the join page"
          hint="Switched off, it is on sale and affiliates of it go on, but newcomers do not see it"
        />
        <Field name="contentKind" schema={of.contentKind} {...bound} />
        <Field name="language" schema={of.language} {...bound} />
        <Field name="categories" schema={of.categories} {...bound} hint="At most three, parted by commas" />
        <Field name="keywords" schema={of.keywords} {...bound} hint="At most three, parted by commas" />
      </Part>
    </>
  );
}
