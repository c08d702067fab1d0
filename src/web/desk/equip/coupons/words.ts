import type { ShopState } from '../../../../core/material/lists';

/** How a coupon stands in the shop, in a word. */
export const shopWords: Record<ShopState, string> = {
  never: 'never seen',
  seen: 'seen working',
  said: 'set up, someone says',
  refused: 'refused',
};

/** The look of each: what waits for a person, what is well. */
export const shopLooks: Record<ShopState, string> = {
  never: 'waiting',
  seen: 'approved',
  said: 'submitted',
  refused: 'refused',
};
