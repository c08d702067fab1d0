import type { AffiliateState } from '../recruiting/states';
import type { Barred } from './lists';

const words: Record<Barred, string> = {
  automated: 'the visitor looks automated',
  'affiliate-applied': 'the affiliate is applied',
  'affiliate-paused': 'the affiliate is paused',
  'affiliate-ended': 'the affiliate is ended',
  'affiliate-blocked': 'the affiliate is blocked',
  'product-retired': 'the product is retired',
};

/** Why a visit cannot earn, in words. */
export function describeBarred(barred: Barred): string {
  return words[barred];
}

/** What keeps a visit to a link from earning, whoever visits: the affiliate's state before the product's; null = nothing. */
export function barredBy(affiliate: AffiliateState, isRetired: boolean): Barred | null {
  if (affiliate !== 'active') return `affiliate-${affiliate}`;
  return isRetired ? 'product-retired' : null;
}
