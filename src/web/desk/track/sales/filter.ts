import type { QueryOf } from '../../../../contract/endpoint';
import type { listOrders } from '../../../../contract/track/sales';
import type { PicturedState } from './unconfirmed';

/** The filter that the address holds. */
export function filterIn(params: URLSearchParams): QueryOf<typeof listOrders> {
  const texts = (['q', 'affiliate', 'from', 'to'] as const).flatMap((key) => {
    const value = params.get(key);
    return value ? [[key, value] as const] : [];
  });
  const credited = (['yes', 'no'] as const).find((c) => c === params.get('credited'));
  return { ...Object.fromEntries(texts), ...(credited ? { credited } : {}) };
}

/** Which unconfirmed sales the address asks for; null where it asks for sales. */
export function picturedIn(params: URLSearchParams): PicturedState | null {
  const asked = params.get('unconfirmed');
  if (!asked) return null;
  return (['old', 'reported', 'confirmed', 'set-aside'] as const).find((s) => s === asked) ?? 'open';
}
