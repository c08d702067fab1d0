import { type FieldFault } from '../../../contract/explain';
import { type ProductIn } from '../../../contract/setup/products';
import { parseAmount, toDecimal } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { type ProductDetails, type ProductKind } from '../../../core/pricing/product';
import { type App } from '../../ground/context';
import { readWall } from '../programme/wall';
import { productByCode } from './store';

const listOf = (text: string) =>
  text
    .split(/[,\n]/)
    .map((t) => t.trim())
    .filter(Boolean);

const whole = (text: string) => (text.trim() === '' ? null : Number(text));

interface Read {
  details: ProductDetails;
  faults: FieldFault[];
}

/** Reads the details that were typed over those there are. Faults are gathered, so that all are said at once. */
export function readDetails(app: App, input: ProductIn, price: number | null, before: ProductDetails): Read {
  const faults: FieldFault[] = [];
  // one fault a field: the first says what is wrong with what was typed
  const fault = (field: string, detail: string, example: string) => {
    if (!faults.some((f) => f.pointer === `/${field}`))
      faults.push({ pointer: `/${field}`, detail, example });
  };
  const money = (
    field: string,
    title: string,
    text: string | undefined,
    currency: string,
    otherwise: number | null,
  ): number | null => {
    if (text === undefined) return otherwise;
    if (text.trim() === '') return null;
    const parsed = isCurrency(currency) ? parseAmount(text, currency) : null;
    if (parsed?.ok) return parsed.value;
    if (parsed) fault(field, `${title}: ${parsed.reason}`, parsed.example);
    return otherwise;
  };
  const kind: ProductKind = input.kind ?? 'one-off';
  const text = <
    K extends
      | 'language'
      | 'contentKind'
      | 'supportAddress'
      | 'supportPage'
      | 'receiptNote'
      | 'accessPage'
      | 'mobilePage'
      | 'fallbackPage'
      | 'prelaunchPage'
      | 'renewalName'
      | 'renewalAbout',
  >(
    key: K,
  ) => (input[key] ?? before[key]).trim();
  const list = (key: 'categories' | 'keywords' | 'accessParameters' | 'furtherPages' | 'confirmNotAfter') =>
    input[key] === undefined ? before[key] : listOf(input[key]);
  const details: ProductDetails = {
    ...before,
    language: text('language'),
    contentKind: text('contentKind'),
    categories: list('categories'),
    keywords: list('keywords'),
    supportAddress: text('supportAddress'),
    supportPage: text('supportPage'),
    receiptNote: text('receiptNote'),
    saleNotice: input.saleNotice ?? before.saleNotice,
    delivery: input.delivery ?? before.delivery,
    downloadDays: input.downloadDays ?? before.downloadDays,
    confirmOffer: input.confirmOffer ?? before.confirmOffer,
    confirmNotAfter: list('confirmNotAfter').map((c) => c.toUpperCase()),
    accessPage: text('accessPage'),
    accessParameters: list('accessParameters'),
    mobilePage: text('mobilePage'),
    fallbackPage: text('fallbackPage'),
    furtherPages: list('furtherPages'),
    prelaunchPage: text('prelaunchPage'),
    listed: input.listed ?? before.listed,
    recruiting: input.recruiting ?? before.recruiting,
    trialDays: input.trialDays ?? before.trialDays,
    interval: input.interval ?? before.interval,
    intervalDays: input.intervalDays ?? before.intervalDays,
    noticeDays: input.noticeDays ?? before.noticeDays,
    instalments: input.instalments ?? before.instalments,
    renewalName: text('renewalName'),
    renewalAbout: text('renewalAbout'),
    renewals: input.renewals === undefined ? before.renewals : whole(input.renewals),
    stock: input.stock === undefined ? before.stock : whole(input.stock),
    renewalPrice: money(
      'renewalPrice',
      'Renewal price',
      input.renewalPrice,
      input.currency,
      before.renewalPrice,
    ),
  };
  if (details.categories.length > 3)
    fault('categories', `At most three categories, these are ${details.categories.length}`, 'craft, pottery');
  if (details.keywords.length > 3)
    fault('keywords', `At most three keywords, these are ${details.keywords.length}`, 'wheel, throwing');
  if (details.furtherPages.some((p) => !/^https?:\/\/[^\s/$.?#]\S*$/.test(p)))
    fault(
      'furtherPages',
      'Each further landing page is a web address that begins with http:// or https://, one a line',
      'https://shop.quernstone.example/wheel-story',
    );
  const strangers = details.confirmNotAfter.filter((c) => !productByCode(app, c));
  if (strangers.length)
    fault(
      'confirmNotAfter',
      `${strangers.join(', ')}: no product has ${strangers.length === 1 ? 'this code' : 'these codes'}`,
      'WHEEL-1, KILN-S',
    );
  if (details.delivery === 'access' && !details.accessPage)
    fault(
      'accessPage',
      'Access page is empty: buyers are led there after the sale',
      'https://shop.quernstone.example/open',
    );
  if (input.launchAt !== undefined) {
    details.launchAt = null;
    if (input.launchAt) {
      try {
        details.launchAt = readWall(app, input.launchAt, 'launchAt', 'Launch');
      } catch {
        fault('launchAt', 'Launch is not a day and time of the calendar', '2027-04-01T09:00');
      }
    }
  }
  if (details.launchAt !== null && !details.prelaunchPage)
    fault(
      'prelaunchPage',
      'Before the launch, links need a page to lead to',
      'https://shop.quernstone.example/soon',
    );
  if (input.prices !== undefined) details.prices = readPrices(input, fault);
  if (input.step !== undefined) details.stepped = readStepped(input, price, money, fault);
  if (kind === 'recurring' && details.renewalPrice === null)
    fault('renewalPrice', 'Renewal price is empty: each renewal costs it', '24.00');
  if (kind === 'recurring' && details.renewals === 0)
    fault('renewals', 'No renewals make a one-off product; leave it empty for “until cancelled”', '11');
  return { details, faults };
}

type Fault = (field: string, detail: string, example: string) => unknown;

function readPrices(input: ProductIn, fault: Fault): Record<string, number> {
  return Object.fromEntries(
    Object.entries(input.prices ?? {})
      .filter(([, text]) => text.trim() !== '')
      .flatMap(([currency, text]): [string, number][] => {
        if (!isCurrency(currency) || currency === input.currency) {
          fault(
            'prices',
            currency === input.currency
              ? `${currency} is the product’s own currency already`
              : `Currency ${currency} is not known`,
            'USD',
          );
          return [];
        }
        const parsed = parseAmount(text, currency);
        if (parsed.ok) return [[currency, parsed.value]];
        fault('prices', `Price in ${currency}: ${parsed.reason}`, parsed.example);
        return [];
      }),
  );
}

type Money = (
  field: string,
  title: string,
  text: string | undefined,
  currency: string,
  otherwise: number | null,
) => number | null;

function readStepped(
  input: ProductIn,
  price: number | null,
  money: Money,
  fault: Fault,
): ProductDetails['stepped'] {
  const step = money('step', 'Step', input.step, input.currency, null);
  if (step === null || step === 0) return null;
  const every = Number(input.stepEvery ?? '');
  const ceiling = money('stepCeiling', 'Ceiling', input.stepCeiling, input.currency, null);
  if (!every) fault('stepEvery', 'Sales a step is empty: the price rises after so many', '5');
  if (ceiling === null) fault('stepCeiling', 'Ceiling is empty: the price stops to rise there', '14.00');
  else if (price !== null && ceiling <= price)
    fault(
      'stepCeiling',
      'The ceiling is not above the price it begins at',
      toDecimal(price + step * 4, input.currency),
    );
  return every && ceiling !== null ? { step, every, ceiling } : null;
}
