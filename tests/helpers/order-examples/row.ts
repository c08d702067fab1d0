/** An example of what an order comes to. */
export type Row = [
  name: string,
  rates: string[],
  terms: string,
  lines: string[],
  expected: string,
  more?: {
    event?: 'sale' | 'renewal' | 'lead' | 'click';
    payment?: number;
    at?: number;
    currency?: string;
    rateMicros?: number;
  },
];

export const R1 = ['programme: 8 %', 'product A: 20 %'];
export const R2 = [...R1, 'card makers: 12 %'];
export const R4 = [...R2, 'group G: 25 %', 'group G on A: 30 %'];
export const R6 = [...R4, 'personal: from 60.00 10 %, from 150.00 35 %'];
export const R10 = ['product S: 50 %', 'product S renewal 2–6 then nothing: 10 %'];
export const R11 = ['product S: 50 %', 'product S renewal 2–6 then next: 10 %', 'programme renewal: 3 %'];
export const renewal = (payment: number) => ({ event: 'renewal' as const, payment });
export const yen = { currency: 'JPY', rateMicros: 160_000_000 };
export const dollar = { currency: 'USD', rateMicros: 1_100_000 };
