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

/** A product's price as typed, minor units of its currency; null where it has none. */
function readPrice({ price, currency, kind }: ProductIn, faults: FieldFault[]): number | null {
  if (!isCurrency(currency))
    faults.push({ pointer: '/currency', detail: `Currency ${currency} is not known`, example: 'EUR' });
  else if (price.trim() !== '') {
    const parsed = parseAmount(price, currency);
    if (parsed.ok && parsed.value > 0 && kind === 'free')
      faults.push({
        pointer: '/price',
        detail: 'A free product has no price: it earns by the lead',
        example: '',
      });
    if (parsed.ok) return parsed.value;
    faults.push({ pointer: '/price', detail: `Price: ${parsed.reason}`, example: parsed.example });
  }
  return null;
}

type Kind = NonNullable<ProductIn['kind']>;

/** What the first payment earns as typed; undefined = leave the rate book's. */
function readFirstReward(app: App, input: ProductIn, kind: Kind, faults: FieldFault[]) {
  if (kind !== 'free' || input.rewardKind !== 'percent')
    return readReward(app, input.rewardKind, { text: input.reward, field: 'reward', faults });
  faults.push({
    pointer: '/rewardKind',
    detail: 'A free product has no value to take a percentage of: pay a flat amount a lead',
    example: 'flat',
  });
  return null;
}

/** What later payments earn as typed; undefined = leave the rate book's. */
function readRenewalReward(app: App, input: ProductIn, kind: Kind, faults: FieldFault[]) {
  const { renewalRewardKind, renewalReward = '' } = input;
  if (renewalRewardKind === undefined || (kind !== 'recurring' && kind !== 'instalments')) return undefined;
  return readReward(app, renewalRewardKind, { text: renewalReward, field: 'renewalReward', faults });
}

/** @param price in base, minor units; null where it is in another currency, or there is none */
function rewardFault(reward: Reward | null | undefined, price: number | null, base: string): FieldFault[] {
  if (reward?.type !== 'flat-order' || price === null || reward.amount <= price) return [];
  return [
    {
      pointer: '/reward',
      detail: 'Commission: more than the price cannot be paid',
      example: toDecimal(price, base),
    },
  ];
}

/** A code belongs to one product. @param own id of the product that is edited */
function codeFault(app: App, code: string, own: string | undefined): FieldFault[] {
  const taken = productByCode(app, code);
  if (!taken || taken.id === own) return [];
  return [
    { pointer: '/code', detail: `Code ${code} belongs to ${taken.name} already`, example: `${code}-2` },
  ];
}

/** Reads a product as typed. @throws Problem `invalid` with every fault */
export function checkProduct(app: App, input: ProductIn, own: ProductRecord | null): Checked {
  const { base } = theProgramme(app);
  const code = input.code.toUpperCase();
  const faults = codeFault(app, code, own?.id);
  const kind = input.kind ?? (own?.kind as Kind | undefined) ?? 'one-off';
  const price = readPrice({ ...input, kind }, faults);
  const before = own ? detailsOf(own) : plainDetails;
  const { details, faults: more } = readDetails(app, { ...input, kind }, price, before);
  faults.push(...more);
  const renewalReward = readRenewalReward(app, input, kind, faults);
  const reward = readFirstReward(app, input, kind, faults);
  const isInBase = input.currency === base && kind !== 'free';
  faults.push(...rewardFault(reward, isInBase ? price : null, base));
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
