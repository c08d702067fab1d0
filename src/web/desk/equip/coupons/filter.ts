import type { QueryOf } from '../../../../contract/endpoint';
import type { listCoupons } from '../../../../contract/equip/coupons';
import { creativeStates, shopStates } from '../../../../core/material/lists';
import { isId } from '../../../../core/text/id';

export type Filter = Omit<QueryOf<typeof listCoupons>, 'after' | 'limit'>;

/** The filter of the coupons, as the address has it. */
export function filterIn(params: URLSearchParams): Filter {
  const get = (key: string) => params.get(key) ?? '';
  const [state, product, owner] = [get('state'), get('product'), get('owner')];
  const filter: Filter = {
    state: state === 'removed' ? 'removed' : creativeStates.find((s) => s === state),
    shop: shopStates.find((s) => s === get('shop')),
    product: isId(product, 'product') ? product : undefined,
    owner: owner === 'somebody' || owner === 'nobody' || isId(owner, 'affiliate') ? owner : undefined,
    only: get('only') === 'warning' ? 'warning' : undefined,
    q: get('q') || undefined,
  };
  return Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== undefined));
}
