import type { QueryOf, ReplyOf } from '../../../../contract/endpoint';
import { type listProspects } from '../../../../contract/recruit/prospects';
import { prospectStates } from '../../../../core/recruiting/states';

export type Prospect = ReplyOf<typeof listProspects>['rows'][number];

/** The filter that the address holds. */
export function filterIn(params: URLSearchParams): QueryOf<typeof listProspects> {
  const texts = (['q', 'kind', 'country', 'tag'] as const).flatMap((key) => {
    const value = params.get(key);
    return value ? [[key, value] as const] : [];
  });
  const state = prospectStates.find((s) => s === params.get('state'));
  const standing = params.get('standing');
  return {
    ...Object.fromEntries(texts),
    ...(standing ? { standing: Number(standing) } : {}),
    ...(state ? { state } : {}),
    ...(params.get('vouched') ? { vouched: true } : {}),
  };
}
