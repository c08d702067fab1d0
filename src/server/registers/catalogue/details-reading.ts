import { type FieldFault } from '../../../contract/explain';
import { type ProductIn } from '../../../contract/setup/products';
import { ownParameters } from '../../../core/material/handed';
import { parseAmount, toDecimal } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { type ProductDetails } from '../../../core/pricing/product';
import { type App } from '../../ground/context';
import { readWall } from '../programme/wall';
import { productByCode } from './store';

const listOf = (text: string) =>
  text
    .split(/[,\n]/)
    .map((t) => t.trim())
    .filter(Boolean);

const whole = (text: string) => (text.trim() === '' ? null : Number(text));

/** Faults of a form, one a field: the first says what is wrong with what was typed. */
class FormFaults {
  readonly list: FieldFault[] = [];

  add(field: string, detail: string, example: string): void {
    if (!this.list.some((f) => f.pointer === `/${field}`))
      this.list.push({ pointer: `/${field}`, detail, example });
  }
}

interface Typed {
  field: string;
  title: string;
  /** undefined = not typed; what there was stays */
  text: string | undefined;
  currency: string;
  otherwise: number | null;
}

/** An amount as typed, minor units of its currency; null where it is empty. */
function readMoney(faults: FormFaults, { field, title, text, currency, otherwise }: Typed): number | null {
  if (text === undefined) return otherwise;
  if (text.trim() === '') return null;
  const parsed = isCurrency(currency) ? parseAmount(text, currency) : null;
  if (parsed?.ok) return parsed.value;
  if (parsed) faults.add(field, `${title}: ${parsed.reason}`, parsed.example);
  return otherwise;
}

const texts = [
  'language',
  'contentKind',
  'supportAddress',
  'supportPage',
  'receiptNote',
  'accessPage',
  'mobilePage',
  'fallbackPage',
  'prelaunchPage',
  'handParameter',
  'renewalName',
  'renewalAbout',
] as const;
const lists = ['categories', 'keywords', 'accessParameters', 'furtherPages', 'confirmNotAfter'] as const;
const choices = [
  'saleNotice',
  'handAs',
  'delivery',
  'downloadDays',
  'confirmOffer',
  'listed',
  'recruiting',
  'trialDays',
  'interval',
  'intervalDays',
  'noticeDays',
  'instalments',
] as const;

/** The same for each of some fields. */
function eachOf<K extends keyof ProductDetails>(
  keys: readonly K[],
  read: (key: K) => ProductDetails[K],
): Pick<ProductDetails, K> {
  return Object.fromEntries(keys.map((key) => [key, read(key)])) as Pick<ProductDetails, K>;
}

/** What was typed over what there is; prices, launch and steps are read by themselves. */
function typedOver(input: ProductIn, before: ProductDetails, faults: FormFaults): ProductDetails {
  const counted = (text: string | undefined, otherwise: number | null) =>
    text === undefined ? otherwise : whole(text);
  const details: ProductDetails = {
    ...before,
    ...eachOf(texts, (key) => (input[key] ?? before[key]).trim()),
    ...eachOf(lists, (key) => (input[key] === undefined ? before[key] : listOf(input[key]))),
    ...eachOf<(typeof choices)[number]>(choices, (key) => input[key] ?? before[key]),
    renewals: counted(input.renewals, before.renewals),
    stock: counted(input.stock, before.stock),
    renewalPrice: readMoney(faults, {
      field: 'renewalPrice',
      title: 'Renewal price',
      text: input.renewalPrice,
      currency: input.currency,
      otherwise: before.renewalPrice,
    }),
  };
  return { ...details, confirmNotAfter: details.confirmNotAfter.map((c) => c.toUpperCase()) };
}

/** Lists that are too long, pages that are none, codes that nothing has. */
function checkLists(app: App, details: ProductDetails, faults: FormFaults): void {
  const { categories, keywords, furtherPages, confirmNotAfter } = details;
  if (categories.length > 3)
    faults.add('categories', `At most three categories, these are ${categories.length}`, 'craft, pottery');
  if (keywords.length > 3)
    faults.add('keywords', `At most three keywords, these are ${keywords.length}`, 'wheel, throwing');
  if (furtherPages.some((p) => !/^https?:\/\/[^\s/$.?#]\S*$/.test(p)))
    faults.add(
      'furtherPages',
      'Each further landing page is a web address that begins with http:// or https://, one a line',
      'https://shop.quernstone.example/wheel-story',
    );
  const strangers = confirmNotAfter.filter((c) => !productByCode(app, c));
  if (strangers.length)
    faults.add(
      'confirmNotAfter',
      `${strangers.join(', ')}: no product has ${strangers.length === 1 ? 'this code' : 'these codes'}`,
      'WHEEL-1, KILN-S',
    );
}

/** The launch as typed, a moment; null where none is planned. */
function readLaunch(app: App, text: string, faults: FormFaults): number | null {
  if (!text) return null;
  try {
    return readWall(app, text, 'launchAt', 'Launch');
  } catch {
    faults.add('launchAt', 'Launch is not a day and time of the calendar', '2027-04-01T09:00');
    return null;
  }
}

/** Pages that buyers are led to, which have to be there. */
function checkPages(
  { delivery, accessPage, launchAt, prelaunchPage }: ProductDetails,
  faults: FormFaults,
): void {
  if (delivery === 'access' && !accessPage)
    faults.add(
      'accessPage',
      'Access page is empty: buyers are led there after the sale',
      'https://shop.quernstone.example/open',
    );
  if (launchAt !== null && !prelaunchPage)
    faults.add(
      'prelaunchPage',
      'Before the launch, links need a page to lead to',
      'https://shop.quernstone.example/soon',
    );
}

/** A name under which the affiliate is handed over that is none of our own. */
function checkHanded({ handParameter }: ProductDetails, faults: FormFaults): void {
  if (ownParameters.some((own) => own === handParameter.toLowerCase()))
    faults.add(
      'handParameter',
      `Affiliate handed over as: ${handParameter} is what we hand over ourselves`,
      'partner',
    );
}

function checkRenewals({ renewalPrice, renewals }: ProductDetails, faults: FormFaults): void {
  if (renewalPrice === null)
    faults.add('renewalPrice', 'Renewal price is empty: each renewal costs it', '24.00');
  if (renewals === 0)
    faults.add('renewals', 'No renewals make a one-off product; leave it empty for “until cancelled”', '11');
}

/** Reads the details that were typed over those there are. Faults are gathered, so that all are said at once. */
export function readDetails(
  app: App,
  input: ProductIn,
  price: number | null,
  before: ProductDetails,
): { details: ProductDetails; faults: FieldFault[] } {
  const faults = new FormFaults();
  const details = typedOver(input, before, faults);
  checkLists(app, details, faults);
  if (input.launchAt !== undefined) details.launchAt = readLaunch(app, input.launchAt, faults);
  checkPages(details, faults);
  checkHanded(details, faults);
  if (input.prices !== undefined) details.prices = readPrices(input, faults);
  if (input.step !== undefined) details.stepped = readStepped(input, price, faults);
  if (input.kind === 'recurring') checkRenewals(details, faults);
  return { details, faults: faults.list };
}

/** Prices in other currencies, minor units of each. */
function readPrices(input: ProductIn, faults: FormFaults): Record<string, number> {
  return Object.fromEntries(
    Object.entries(input.prices ?? {})
      .filter(([, text]) => text.trim() !== '')
      .flatMap(([currency, text]): [string, number][] => {
        if (currency === input.currency)
          faults.add('prices', `${currency} is the product’s own currency already`, 'USD');
        else if (!isCurrency(currency)) faults.add('prices', `Currency ${currency} is not known`, 'USD');
        else {
          const parsed = parseAmount(text, currency);
          if (parsed.ok) return [[currency, parsed.value]];
          faults.add('prices', `Price in ${currency}: ${parsed.reason}`, parsed.example);
        }
        return [];
      }),
  );
}

/** A price that rises with what is sold; null where it stands still. */
function readStepped(input: ProductIn, price: number | null, faults: FormFaults): ProductDetails['stepped'] {
  const { currency } = input;
  const step = readMoney(faults, {
    field: 'step',
    title: 'Step',
    text: input.step,
    currency,
    otherwise: null,
  });
  if (step === null || step === 0) return null;
  const every = Number(input.stepEvery ?? '');
  const ceiling = readMoney(faults, {
    field: 'stepCeiling',
    title: 'Ceiling',
    text: input.stepCeiling,
    currency,
    otherwise: null,
  });
  if (!every) faults.add('stepEvery', 'Sales a step is empty: the price rises after so many', '5');
  if (ceiling === null) faults.add('stepCeiling', 'Ceiling is empty: the price stops to rise there', '14.00');
  else if (price !== null && ceiling <= price)
    faults.add(
      'stepCeiling',
      'The ceiling is not above the price it begins at',
      toDecimal(price + step * 4, currency),
    );
  return every && ceiling !== null ? { step, every, ceiling } : null;
}
