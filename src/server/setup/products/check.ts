import { type FieldFault } from '../../../contract/explain';
import { type ProductIn } from '../../../contract/setup/products';
import { parseAmount, toDecimal } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { parsePercent } from '../../../core/money/percent';
import { plainDetails } from '../../../core/pricing/product';
import { type Reward } from '../../../core/terms/rate';
import { type App } from '../../ground/context';
import { invalid } from '../../ground/http/problem';
import { detailsOf } from '../../registers/catalogue/details';
import { readDetails } from '../../registers/catalogue/details-reading';
import { productByCode, type ProductRecord } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';

export interface Checked {
  fields: Pick<
    ProductRecord,
    'code' | 'name' | 'description' | 'kind' | 'currency' | 'price' | 'refundDays' | 'salesPage' | 'details'
  >;
  /** undefined = leave the rate book's */
  reward: Reward | null | undefined;
  renewalReward: Reward | null | undefined;
}

export function check(app: App, input: ProductIn, own: ProductRecord | null): Checked {
  const faults: FieldFault[] = [];
  const fault = (field: string, detail: string, example: string) =>
    faults.push({ pointer: `/${field}`, detail, example });
  const base = theProgramme(app).base;
  const code = input.code.toUpperCase();
  const taken = productByCode(app, code);
  if (taken && taken.id !== own?.id)
    fault('code', `Code ${code} belongs to ${taken.name} already`, `${code}-2`);
  let price: number | null = null;
  if (!isCurrency(input.currency)) fault('currency', `Currency ${input.currency} is not known`, 'EUR');
  else if (input.price.trim() !== '') {
    const parsed = parseAmount(input.price, input.currency);
    if (parsed.ok) price = parsed.value;
    else fault('price', `Price: ${parsed.reason}`, parsed.example);
  }
  const kind = input.kind ?? (own?.kind as ProductIn['kind']) ?? 'one-off';
  if (kind === 'free' && price !== null && price > 0)
    fault('price', 'A free product has no price: it earns by the lead', '');
  const { details, faults: more } = readDetails(
    app,
    { ...input, kind },
    price,
    own ? detailsOf(own) : plainDetails,
  );
  faults.push(...more);
  const renewalReward =
    input.renewalRewardKind === undefined || (kind !== 'recurring' && kind !== 'instalments')
      ? undefined
      : readReward(app, input.renewalRewardKind, {
          text: input.renewalReward ?? '',
          field: 'renewalReward',
          faults,
        });
  let reward: Reward | null | undefined = input.rewardKind === 'book' ? undefined : null;
  if (kind === 'free' && input.rewardKind === 'percent')
    fault(
      'rewardKind',
      'A free product has no value to take a percentage of: pay a flat amount a lead',
      'flat',
    );
  else reward = readReward(app, input.rewardKind, { text: input.reward, field: 'reward', faults });
  if (
    reward?.type === 'flat-order' &&
    price !== null &&
    input.currency === base &&
    kind !== 'free' &&
    reward.amount > price
  )
    fault('reward', 'Commission: more than the price cannot be paid', toDecimal(price, base));
  if (faults.length) throw invalid(faults);
  const { name, description, currency, refundDays, salesPage } = input;
  return {
    fields: {
      code,
      name: name.trim(),
      description: description.trim(),
      kind,
      currency,
      price: kind === 'free' ? 0 : price,
      refundDays,
      salesPage: salesPage.trim(),
      details,
    },
    reward,
    renewalReward,
  };
}

/** A reward as typed: a percentage, a flat amount, none; undefined = leave the rate book's. */
function readReward(
  app: App,
  kind: ProductIn['rewardKind'],
  { text, field, faults }: { text: string; field: string; faults: FieldFault[] },
): Reward | null | undefined {
  if (kind === 'book') return undefined;
  if (kind === 'none') return null;
  const parsed = kind === 'percent' ? parsePercent(text) : parseAmount(text, theProgramme(app).base);
  if (parsed.ok)
    return kind === 'percent'
      ? { type: 'percent', ppm: parsed.value }
      : { type: 'flat-order', amount: parsed.value };
  faults.push({ pointer: `/${field}`, detail: `Commission: ${parsed.reason}`, example: parsed.example });
  return null;
}
