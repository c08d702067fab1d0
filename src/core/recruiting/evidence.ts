import { mulDiv } from '../money/rounding';

/** Prior for a refund rate: 5 % with the weight of 40 sales. */
const priorRefunds = 2;
const priorSales = 40;

/**
 * Refund rate shrunk towards 5 %: (refunds + 0.05 × 40) ÷ (sales + 40), in parts per million.
 * 0 of 1 → 48780 (4.9 %); 30 of 200 → 133333 (13.3 %).
 */
export function shrunkRefundRate(refunds: number, sales: number): number {
  return mulDiv(refunds + priorRefunds, 1_000_000, sales + priorSales);
}

const bands: [number, string][] = [
  [1000, '1,000+'],
  [250, '250–999'],
  [50, '50–249'],
  [10, '10–49'],
  [1, '1–9'],
  [0, 'none'],
];

/** The band in which a number of cleared sales is shown. */
export function clearedBand(sales: number): string {
  return bands.find(([least]) => sales >= least)?.[1] ?? 'none';
}

/** Whole years and the days beyond, counted on the calendar: leap days count as days. */
export function tenure(sinceDay: string, today: string): { years: number; days: number } {
  const [y1 = 0, m = 1, d = 1] = sinceDay.split('-').map(Number);
  const now = Date.parse(`${today}T00:00:00Z`);
  let years = Number(today.slice(0, 4)) - y1;
  const anniversary = (n: number) => {
    // a person who joined on 29 Feb has the anniversary on 28 Feb in common years
    const last = new Date(Date.UTC(y1 + n, m, 0)).getUTCDate();
    return Date.UTC(y1 + n, m - 1, Math.min(d, last));
  };
  if (anniversary(years) > now) years -= 1;
  return { years, days: Math.round((now - anniversary(years)) / 86_400_000) };
}

/** An address as it is compared: letters and digits only, in lower case; empty where it is too short to say anything. */
export function addressKey(address: string): string {
  const key = address
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '');
  return key.length < 8 ? '' : key;
}

/** The form of an e-mail address under which a person is recognised: lower case, no surrounding space. */
export function emailKey(email: string): string {
  return email.trim().toLowerCase();
}
