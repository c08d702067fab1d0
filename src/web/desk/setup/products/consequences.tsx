import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ReplyOf } from '../../../../contract/endpoint';
import type { ProductIn, ProductOut } from '../../../../contract/setup/products';
import { askRateBook } from '../../../../contract/setup/rate-book';
import type { readProgramme } from '../../../../contract/setup/settings';
import { readReferral } from '../../../../contract/setup/shares';
import { formatMoney, parseAmount, toDecimal } from '../../../../core/money/amount';
import { isCurrency } from '../../../../core/money/currency';
import { formatPercent, parsePercent } from '../../../../core/money/percent';
import { consequencesOf, leftOf, loses, type Sale } from '../../../../core/pricing/consequences';
import { usuallyPaid, type MarginRow } from '../../../../core/pricing/economics';
import type { Pay } from '../../../../core/terms/rate';
import type { Id } from '../../../../core/text/id';
import { asking } from '../../../kit/asking';
import { Note, Said, Wrong } from '../../../kit/note';
import { Pick } from '../../../kit/pick';
import { useProgramme } from '../../../kit/programme';
import { Sums } from '../../../kit/text';
import { findAffiliates } from '../../shared/find-affiliates';
import { costsBeforeSales, decidedBy, payOf, priceOfNextSale, round } from './sale';

interface Props {
  values: ProductIn;
  product: ProductOut | null;
  settings: ReplyOf<typeof readProgramme> | undefined;
}

interface Who {
  id: Id<'affiliate'>;
  name: string;
}

interface Asked {
  product: ProductOut | null;
  /** what is usually paid, minor units of the currency */
  value: number;
  currency: string;
  typed: Pay | null;
}

/** What a chosen affiliate earns on a value: by the rate being typed where the product's or programme's own decides, else by the saved rate book. */
function useTerms(who: Id<'affiliate'> | null, { product, value, currency, typed }: Asked) {
  const ready = who !== null && product !== null && value > 0;
  const asked = useQuery({
    enabled: ready,
    retry: false,
    placeholderData: keepPreviousData,
    ...asking(askRateBook, {
      query: {
        column: 'affiliate',
        ...(who ? { who } : {}),
        ...(product ? { product: product.id } : {}),
        value: toDecimal(ready ? value : 0, currency),
        currency,
      },
    }),
  });
  const referral = useQuery({
    enabled: who !== null,
    ...asking(readReferral, { params: { id: who! } }),
  });
  if (!who || !asked.data) return null;
  return { ...decidedBy(asked.data, typed), referral: referralOf(referral.data?.by) };
}

function referralOf(by: ReplyOf<typeof readReferral>['by'] | undefined) {
  const share = by && parsePercent(by.percent);
  return by && share?.ok ? { ppm: share.value, of: by.of, name: by.name } : null;
}

type Terms = ReturnType<typeof useTerms>;

/** What a payment earns an affiliate and leaves the merchant, while it is typed: at the present rates, or for a chosen affiliate; and down the funnel. */
export function Consequences(props: Props) {
  const { values, product, settings } = props;
  const { base } = useProgramme();
  const typed = payOf(values.rewardKind, values.reward, settings?.rate ?? '', base);
  if (values.kind === 'free') return <Lead typed={typed} />;
  const price = isCurrency(values.currency) ? parseAmount(values.price, values.currency) : null;
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
  const sold = product?.sold ?? 0;
  const next = priceOfNextSale(values, { price: price.value, sold });
  const priceLabel = next > price.value ? `Price now, after ${sold} sold` : 'Price';
  return <OneSale {...props} price={next} priceLabel={priceLabel} typed={typed} />;
}

/** What a lead costs. */
function Lead({ typed }: { typed: Pay | null }) {
  const { base } = useProgramme();
  if (typed?.type !== 'flat-order')
    return <p className="text-ink2">An amount a lead shows here what a lead costs.</p>;
  const say = (amount: number) => formatMoney({ amount, currency: base });
  return (
    <Sums
      rows={[
        { label: 'Price', figure: say(0) },
        { label: 'Commission a lead', figure: say(-typed.amount) },
        { label: 'A lead costs you', figure: say(-typed.amount), weight: 'sum' },
      ]}
    />
  );
}

function renewalOf(values: ProductIn, base: string): Sale['renewal'] {
  const renewal = values.kind === 'recurring' ? parseAmount(values.renewalPrice ?? '', base) : null;
  if (!renewal?.ok) return null;
  return {
    price: renewal.value,
    pay: payOf(values.renewalRewardKind, values.renewalReward ?? '', '', base),
  };
}

type SaleProps = Props & {
  /** what the next buyer is asked, minor units of base */
  price: number;
  /** says so where a stepped price has risen above the one that is typed */
  priceLabel: string;
  typed: Pay;
};

/** The sale as it is typed, at everybody’s rates or at those of whom is chosen. */
function useSale(
  { values, product, settings, price, typed }: SaleProps,
  who: Who | null,
): { sale: Sale; terms: Terms; costs: ProductOut['economics'] } {
  const { base } = useProgramme();
  const costs = product?.economics ?? costsBeforeSales(settings, base);
  const terms = useTerms(who?.id ?? null, {
    product,
    value: usuallyPaid(price, costs.discountPpm),
    currency: values.currency,
    typed,
  });
  const sale = {
    price,
    pay: terms ? terms.pay : typed,
    renewal: renewalOf(values, base),
    referral: terms?.referral ?? null,
    conversion: product?.conversion ?? null,
  };
  return { sale, terms, costs };
}

function OneSale(props: SaleProps) {
  const { values, product, priceLabel } = props;
  const [who, setWho] = useState<Who | null>(null);
  const { sale, terms, costs } = useSale(props, who);
  const found = consequencesOf(sale, costs);
  const referrer = terms?.referral?.name ?? '';
  return (
    <>
      {product && <ForWhom who={who} setWho={setWho} terms={terms} />}
      <MarginSums rows={found.rows} costs={costs} referrer={referrer} first={priceLabel} />
      {loses(found.rows) && <Wrong>A sale would cost you more than it brings.</Wrong>}
      {!who && costs.referral && (
        <Said faint>
          Where somebody brought the affiliate in, {formatPercent(costs.referral.ppm)} of the{' '}
          {costs.referral.of} goes there besides.
        </Said>
      )}
      {found.renewal && (
        <div className="mt-3">
          <h3 className="font-semibold">Each renewal</h3>
          <MarginSums rows={found.renewal.rows} costs={costs} referrer={referrer} />
        </div>
      )}
      {found.down && <DownTheFunnel rows={found.down} costs={costs} referrer={referrer} />}
      <h2 className="mt-4">To {who ? who.name : 'an affiliate'}</h2>
      <ToTheAffiliate found={found} sale={sale} recurring={values.kind === 'recurring'} />
      <LowEarning commission={found.commission} line={costs.lowEarning} />
    </>
  );
}

/** At whose rates it is worked out. */
function ForWhom({
  who,
  setWho,
  terms,
}: {
  who: Who | null;
  setWho: (who: Who | null) => void;
  terms: Terms;
}) {
  if (!who)
    return (
      <p className="mb-2 text-ink2">
        At the rates for everybody · for{' '}
        <Pick label="For a chosen affiliate" find={findAffiliates} onPick={setWho}>
          a chosen affiliate
        </Pick>
      </p>
    );
  return (
    <p className="mb-2 text-ink2">
      For <b className="font-semibold">{who.name}</b>
      {terms && <>: {decidedInWords(terms)}</>} ·{' '}
      <button type="button" className="link" onClick={() => setWho(null)}>
        for everybody
      </button>
    </p>
  );
}

function decidedInWords({ typed, rung }: NonNullable<Terms>): string {
  if (typed) return 'the rate typed here';
  return rung === 'none' ? 'no rate applies' : `the ${rung.toLowerCase()} rate decides, as saved`;
}

interface MarginProps {
  rows: MarginRow[];
  costs: ProductOut['economics'];
  /** who brought the affiliate in, '' for nobody */
  referrer: string;
  /** what the first row is called where it is more than one price */
  first?: string;
}

function MarginSums({ rows, costs, referrer, first }: MarginProps) {
  const { base } = useProgramme();
  const labels: Record<MarginRow['label'], string> = {
    price: first ?? 'Price',
    discount: `Discounts, on average ${round(costs.discountPpm)}`,
    fees: 'Payment fees',
    refunds: `Refunds, on average ${round(costs.refundPpm)}`,
    commission: 'Commission, less what refunds take back',
    referral: `Referral share${referrer ? ` of ${referrer}` : ''}`,
    'co-owners': 'Co-owner shares',
    left: 'Left to you, before cost',
  };
  return (
    <Sums
      rows={rows.map((r) => ({
        label: labels[r.label],
        figure: formatMoney({ amount: r.amount, currency: base }),
        weight: r.label === 'left' ? ('sum' as const) : ('part' as const),
      }))}
    />
  );
}

function DownTheFunnel(props: MarginProps) {
  const { base } = useProgramme();
  const { rows, costs } = props;
  return (
    <details className="mt-3">
      <summary className="cursor-pointer font-semibold">
        Down the funnel: {formatMoney({ amount: leftOf(rows), currency: base })} a sale
      </summary>
      <Said>
        With {costs.follow.map((f) => `${f.name}, taken by ${round(f.takenPpm)}`).join('; ')}, at everybody’s
        rates.
      </Said>
      <MarginSums {...props} first="Prices" />
    </details>
  );
}

function ToTheAffiliate({
  found,
  sale,
  recurring,
}: {
  found: ReturnType<typeof consequencesOf>;
  sale: Sale;
  recurring: boolean;
}) {
  const { base } = useProgramme();
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const { commission, per100Clicks, renewal } = found;
  return (
    <div className="mt-1">
      <Sums
        rows={[
          { label: recurring ? 'The first payment' : 'One sale', figure: say(commission) },
          ...(renewal ? [{ label: 'Each renewal', figure: say(renewal.commission) }] : []),
          per100Clicks === null
            ? { label: '100 clicks: no clicks yet to tell', figure: '—', weight: 'aside' as const }
            : {
                label: `100 clicks, at ${round(sale.conversion ?? 0)} conversion`,
                figure: say(per100Clicks),
              },
        ]}
      />
    </div>
  );
}

/** Says so where too little is earned for anybody to promote it. @param line the merchant’s own, 0 for none */
function LowEarning({ commission, line }: { commission: number; line: number }) {
  const { base } = useProgramme();
  if (line <= 0 || commission >= line) return null;
  const say = (amount: number) => formatMoney({ amount, currency: base });
  return (
    <Note className="mt-2">
      {say(commission)} a sale is too little for most affiliates to promote it; your line is {say(line)}.
    </Note>
  );
}
