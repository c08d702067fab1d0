import type { QueryOf } from '../../../../contract/endpoint';
import type { listCreatives } from '../../../../contract/equip/creatives';
import {
  audienceKinds,
  creativeKinds,
  creativeStates,
  type AudienceKind,
  type CreativeKind,
} from '../../../../core/material/lists';
import { isId } from '../../../../core/text/id';

export type Filter = Omit<QueryOf<typeof listCreatives>, 'after' | 'limit'>;

const oneOf = <T extends string>(list: readonly T[], value: string | null): T | undefined =>
  list.find((one) => one === value);

function audienceIn(value: string): Filter['audience'] {
  return isId(value, 'set', 'segment', 'affiliate') ? value : oneOf<AudienceKind>(audienceKinds, value);
}

/** The filter of the sample book, as the address has it. */
export function filterIn(params: URLSearchParams): Filter {
  const get = (key: string) => params.get(key) ?? '';
  const product = get('product');
  const filter: Filter = {
    kind: oneOf<CreativeKind>(creativeKinds, get('kind')),
    product: product === 'programme' || isId(product, 'product') ? product : undefined,
    subject: get('subject') || undefined,
    size: get('size') || undefined,
    language: get('language') || undefined,
    audience: audienceIn(get('audience')),
    state: oneOf<NonNullable<Filter['state']>>(
      [...creativeStates, 'unused', 'contradicts', 'removed'],
      get('state'),
    ),
    q: get('q') || undefined,
    order: get('order') === 'clicks' ? 'clicks' : undefined,
  };
  return Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== undefined));
}

/** Whether anything narrows the sample book beside its order. */
export const isNarrowed = ({ order: _, ...filter }: Filter): boolean => Object.keys(filter).length > 0;
