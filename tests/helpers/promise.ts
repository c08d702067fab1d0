import { buildBook } from '../../src/core/terms/book';
import type { PromiseQuestion } from '../../src/core/terms/promise';
import { plain, say } from './terms';

/** What rates promise the affiliate of the tests on a first sale of product A, in euro, at the moment 100. */
export const question = (rates: readonly string[], more: Partial<PromiseQuestion> = {}): PromiseQuestion => ({
  ...{ book: buildBook(rates.map(say)), terms: plain, sold: { product: 'prd_A', kind: 'one-off' } },
  ...{ event: 'sale', payment: 1, at: 100, base: 'EUR' },
  ...more,
});
