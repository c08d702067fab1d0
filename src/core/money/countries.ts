import type { Currency } from './currency';

const eurozone = 'AT BE BG CY DE EE ES FI FR GR HR IE IT LT LU LV MT NL PT SI SK';

/** Countries (ISO 3166-1 alpha-2) by the currency that is paid with there, for the accepted currencies. */
const countries: Partial<Record<Currency, string>> = {
  EUR: eurozone,
  USD: 'US EC SV PR',
  GBP: 'GB IM JE GG',
  CHF: 'CH LI',
  SEK: 'SE',
  NOK: 'NO',
  DKK: 'DK FO GL',
  PLN: 'PL',
  CZK: 'CZ',
  CAD: 'CA',
  AUD: 'AU',
  NZD: 'NZ',
  BRL: 'BR',
  MXN: 'MX',
  ZAR: 'ZA',
  INR: 'IN',
  SGD: 'SG',
  HKD: 'HK',
  HUF: 'HU',
  RON: 'RO',
  TRY: 'TR',
  ILS: 'IL',
  JPY: 'JP',
  KRW: 'KR',
  ISK: 'IS',
  CLP: 'CL',
  VND: 'VN',
  KWD: 'KW',
  BHD: 'BH',
  OMR: 'OM',
  TND: 'TN',
  JOD: 'JO',
};
const byCountry = new Map(
  Object.entries(countries).flatMap(([currency, list]) =>
    list.split(' ').map((c): [string, string] => [c, currency]),
  ),
);

/** The currency of a country, or null where it is not known. @param country two letters, any case */
export function currencyOf(country: string): string | null {
  return byCountry.get(country.trim().toUpperCase()) ?? null;
}

/** The country that a browser's Accept-Language names first: "de-AT,de;q=0.9" → AT. Null where it names none. */
export function countryIn(acceptLanguage: string | undefined): string | null {
  const found = /^[a-z]{2,3}(?:-[A-Z][a-z]{3})?-([A-Z]{2})\b/i.exec(
    acceptLanguage?.split(',')[0]?.trim() ?? '',
  );
  return found?.[1]?.toUpperCase() ?? null;
}

/** Prices with the buyer's own currency first, then the product's own, then the others as they stand. @param prices by currency */
export function ownFirst<T>(
  prices: Readonly<Record<string, T>>,
  main: string,
  country: string | null,
): [currency: string, price: T][] {
  const own = country === null ? null : currencyOf(country);
  const rank = (c: string) => (c === own ? 0 : c === main ? 1 : 2);
  return Object.entries(prices).sort(([a], [b]) => rank(a) - rank(b));
}
