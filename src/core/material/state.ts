import type { CreativeState } from './lists';

/** What of a product decides whether what promotes it can be used. */
export interface Promoted {
  isOnSale: boolean;
  /** moment of its launch; null where it has none */
  launchAt: number | null;
}

/** What decides the state of a creative. Moments are UTC milliseconds; until is exclusive. */
export interface Dated {
  active: boolean;
  from: number | null;
  until: number | null;
  /** what it promotes; empty for the whole programme */
  products: readonly Promoted[];
}

const canBeSold = (product: Promoted, at: number) =>
  product.isOnSale && (product.launchAt === null || product.launchAt <= at);

/**
 * The state of a creative at a moment. What is over is over, whatever else holds; then a person's switch; then its beginning; and where
 * none of its products can be bought at that moment, it waits for one.
 */
export function creativeState({ active, from, until, products }: Dated, at: number): CreativeState {
  if (until !== null && until <= at) return 'ended';
  if (!active) return 'off';
  if (from !== null && from > at) return 'scheduled';
  if (products.length > 0 && !products.some((product) => canBeSold(product, at))) return 'waiting';
  return 'on';
}
