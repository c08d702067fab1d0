/** Digits after the decimal point, by ISO 4217 code. A code that is not here is not accepted. */
export const exponents = {
  EUR: 2,
  USD: 2,
  GBP: 2,
  CHF: 2,
  SEK: 2,
  NOK: 2,
  DKK: 2,
  PLN: 2,
  CZK: 2,
  CAD: 2,
  AUD: 2,
  NZD: 2,
  BRL: 2,
  MXN: 2,
  ZAR: 2,
  INR: 2,
  SGD: 2,
  HKD: 2,
  HUF: 2,
  RON: 2,
  BGN: 2,
  TRY: 2,
  ILS: 2,
  JPY: 0,
  KRW: 0,
  ISK: 0,
  CLP: 0,
  VND: 0,
  KWD: 3,
  BHD: 3,
  OMR: 3,
  TND: 3,
  JOD: 3,
} as const;

export type Currency = keyof typeof exponents;

/** Every accepted currency code, in the order of the table. */
export const currencies = Object.keys(exponents) as Currency[];

/** True if `code` is an accepted ISO 4217 code. */
export function isCurrency(code: string): code is Currency {
  return Object.hasOwn(exponents, code);
}

/**
 * Digits after the decimal point of a currency (EUR 2, JPY 0, KWD 3).
 * @throws RangeError for a code outside the table
 */
export function exponentOf(code: string): number {
  if (!isCurrency(code))
    throw new RangeError(`Currency ${code} is not known; known are ${currencies.join(', ')}`);
  return exponents[code];
}
