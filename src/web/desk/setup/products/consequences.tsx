import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ProductIn, ProductOut } from '../../../../contract/setup/products';
import { askRateBook } from '../../../../contract/setup/rate-book';
import { readReferral } from '../../../../contract/setup/shares';
import { formatMoney, parseAmount, toDecimal } from '../../../../core/money/amount';
import { isCurrency } from '../../../../core/money/currency';
import { formatPercent, parsePercent } from '../../../../core/money/percent';
import {
  marginDown,
  marginOf,
  saleEconomics,
  usuallyPaid,
  type MarginRow,
  type SalePromises,
} from '../../../../core/pricing/economics';
import type { Pay } from '../../../../core/terms/rate';
import { call } from '../../../kit/api';
import { Note } from '../../../kit/note';
import { Pick } from '../../../kit/pick';
import { useProgramme } from '../../../kit/programme';
import { Sums } from '../../../kit/text';
import { findAffiliates } from '../../shared/find-affiliates';

interface Props {
  values: ProductIn;
  product: ProductOut | null;
  programmeRate: string;
}
const noCosts: ProductOut['economics'] = {
  feePpm: 0,
  feeFixed: 0,
  refundPpm: 50_000,
  lowEarning: 0,
  discountPpm: 0,
  owners: [],
  referral: null,
  follow: [],
};
const round = (ppm: number) => formatPercent(Math.round(ppm / 1000) * 1000);

function payOf(
  kind: ProductIn['rewardKind'] | undefined,
  reward: string,
  programmeRate: string,
  base: string,
): Pay | null {
  if (kind === 'flat') {
    const flat = parseAmount(reward, base);
    return flat.ok ? { type: 'flat-order', amount: flat.value } : null;
  }
  const percent = parsePercent(kind === 'percent' ? reward : programmeRate);
  return percent.ok ? { type: 'percent', ppm: percent.value } : null;
}

/** What a chosen affiliate earns on a value: by the rate being typed where the product's or programme's own decides, else by the saved rate book. */
function useTerms(
  who: string | null,
  {
    product,
    value,
    currency,
    typed,
  }: { product: ProductOut | null; value: number; currency: string; typed: Pay | null },
) {
  const asked = useQuery({
    queryKey: ['ask', 'editor', who, product?.id, value],
    enabled: who !== null && product !== null && value > 0,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      call(askRateBook, {
        query: {
          column: 'affiliate',
          who: who!,
          product: product!.id,
          value: toDecimal(value, currency),
          currency,
        },
      }),
  });
  const referral = useQuery({
    queryKey: ['referral', who],
    enabled: who !== null,
    queryFn: () => call(readReferral, { params: { id: who! } }),
  });
  if (!who || !asked.data) return null;
  const line = asked.data.lines[0]!;
  const won = line.rungs.find((r) => r.rows.some((row) => row.outcome === 'wins'))?.rung ?? 'none';
  const raised = line.rungs.some((r) => r.rung === 'Uplift' && r.rows.some((row) => row.outcome === 'wins'));
  const own = won === 'Product' || won === 'Programme';
  const pay: Pay | null = own && !raised ? typed : { type: 'flat-order', amount: asked.data.total.amount };
  const by = referral.data?.by;
  const share = by && parsePercent(by.percent);
  return {
    pay,
    rung: won,
    typed: own && !raised,
    referral: by && share && share.ok ? { ppm: share.value, of: by.of, name: by.name } : null,
  };
}

/** What a payment earns an affiliate and leaves the merchant, while it is typed: at the present rates, or for a chosen affiliate; and down the funnel. */
export function Consequences({ values, product, programmeRate }: Props) {
  const { base } = useProgramme();
  const [who, setWho] = useState<{ id: string; name: string } | null>(null);
  const costs = product?.economics ?? noCosts;
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const known = isCurrency(values.currency);
  const price = known && values.kind !== 'free' ? parseAmount(values.price, values.currency) : null;
  const typed = payOf(values.rewardKind, values.reward, programmeRate, base);
  const paid = price?.ok ? usuallyPaid(price.value, costs.discountPpm) : 0;
  const theirs = useTerms(who?.id ?? null, { product, value: paid, currency: values.currency, typed });
  if (values.kind === 'free')
    return typed && typed.type === 'flat-order' ? (
      <Sums
        rows={[
          { label: 'Price', figure: say(0) },
          { label: 'Commission a lead', figure: say(-typed.amount) },
          { label: 'A lead costs you', figure: say(-typed.amount), weight: 'sum' },
        ]}
      />
    ) : (
      <p className="text-ink2">An amount a lead shows here what a lead costs.</p>
    );
  if (!price?.ok || !typed)
    return (
      <p className="text-ink2">
        A price and a commission show here what one sale earns an affiliate, and what it leaves you.
      </p>
    );
  if (values.currency !== base)
    return (
      <p className="text-ink2">
        The price is in {values.currency}. Orders are converted to {base} at the rate of their day before
        commission is worked out.
      </p>
    );

  const labels: Record<MarginRow['label'], string> = {
    price: 'Price',
    discount: `Discounts, on average ${round(costs.discountPpm)}`,
    fees: 'Payment fees',
    refunds: `Refunds, on average ${round(costs.refundPpm)}`,
    commission: 'Commission, less what refunds take back',
    referral: `Referral share${theirs?.referral ? ` of ${theirs.referral.name}` : ''}`,
    'co-owners': 'Co-owner shares',
    left: 'Left to you, before cost',
  };
  const column = (rows: MarginRow[], first?: string) => (
    <Sums
      rows={rows.map((r) => ({
        label: r.label === 'price' && first ? first : labels[r.label],
        figure: say(r.amount),
        weight: r.label === 'left' ? ('sum' as const) : ('part' as const),
      }))}
    />
  );
  const promises = (pay: Pay | null): SalePromises => ({
    pay,
    referral: theirs?.referral ?? null,
    owners: costs.owners,
  });
  const pay = theirs ? theirs.pay : typed;
  const rows = marginOf(price.value, promises(pay), costs);
  const { commission, per100Clicks } = pay
    ? saleEconomics(paid, pay, product?.conversion ?? null)
    : { commission: 0, per100Clicks: null };
  const renewal = values.kind === 'recurring' ? parseAmount(values.renewalPrice ?? '', base) : null;
  const later = renewal?.ok ? payOf(values.renewalRewardKind, values.renewalReward ?? '', '', base) : null;
  const laterCommission = renewal?.ok && later ? saleEconomics(renewal.value, later, null).commission : 0;
  const offers = costs.follow.map((f) => ({
    takenPpm: f.takenPpm,
    rows: marginOf(
      f.price,
      {
        pay: { type: 'flat-order', amount: f.commission },
        referral: theirs?.referral ?? null,
        owners: f.owners,
      },
      { ...costs, discountPpm: 0, refundPpm: f.refundPpm },
    ),
  }));
  return (
    <>
      {product && (
        <p className="mb-2 text-ink2">
          {who ? (
            <>
              For <b className="font-semibold">{who.name}</b>
              {theirs && (
                <>
                  :{' '}
                  {theirs.typed
                    ? 'the rate typed here'
                    : theirs.rung === 'none'
                      ? 'no rate applies'
                      : `the ${theirs.rung.toLowerCase()} rate decides, as saved`}
                </>
              )}{' '}
              ·{' '}
              <button type="button" className="link" onClick={() => setWho(null)}>
                for everybody
              </button>
            </>
          ) : (
            <>
              At the rates for everybody · for{' '}
              <Pick label="For a chosen affiliate" find={findAffiliates} onPick={setWho}>
                a chosen affiliate
              </Pick>
            </>
          )}
        </p>
      )}
      {column(rows)}
      {rows.at(-1)!.amount < 0 && (
        <p className="mt-1 text-madder">A sale would cost you more than it brings.</p>
      )}
      {!who && costs.referral && (
        <p className="mt-1 text-ink3">
          Where somebody brought the affiliate in, {formatPercent(costs.referral.ppm)} of the{' '}
          {costs.referral.of} goes there besides.
        </p>
      )}
      {renewal?.ok && (
        <div className="mt-3">
          <h3 className="font-semibold">Each renewal</h3>
          {column(marginOf(renewal.value, promises(later), { ...costs, discountPpm: 0 }))}
        </div>
      )}
      {offers.length > 0 && (
        <details className="mt-3">
          <summary className="cursor-pointer font-semibold">
            Down the funnel: {say(marginDown(rows, offers).at(-1)!.amount)} a sale
          </summary>
          <p className="mt-1 text-ink2">
            With {costs.follow.map((f) => `${f.name}, taken by ${round(f.takenPpm)}`).join('; ')}, at
            everybody’s rates.
          </p>
          {column(marginDown(rows, offers), 'Prices')}
        </details>
      )}
      <h2 className="mt-4">To {who ? who.name : 'an affiliate'}</h2>
      <div className="mt-1">
        <Sums
          rows={[
            {
              label: values.kind === 'recurring' ? 'The first payment' : 'One sale',
              figure: say(commission),
            },
            ...(renewal?.ok ? [{ label: 'Each renewal', figure: say(laterCommission) }] : []),
            per100Clicks === null
              ? { label: '100 clicks: no clicks yet to tell', figure: '—', weight: 'aside' as const }
              : {
                  label: `100 clicks, at ${round(product?.conversion ?? 0)} conversion`,
                  figure: say(per100Clicks),
                },
          ]}
        />
      </div>
      {costs.lowEarning > 0 && commission < costs.lowEarning && (
        <Note className="mt-2">
          {say(commission)} a sale is too little for most affiliates to promote it; your line is{' '}
          {say(costs.lowEarning)}.
        </Note>
      )}
    </>
  );
}
