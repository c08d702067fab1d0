import type { AnyEndpoint, ReplyOf } from '../../contract/endpoint';
import { call, type Given } from './api';

/**
 * A reading call as a query of the interface. Its key begins with the call’s path: from that `touched` knows what shows it.
 * @param further what the answer depends on beside what is asked: the version of a draft, say
 */
export function asking<E extends AnyEndpoint>(
  end: E,
  given: Given<E> = {},
  ...further: (string | number | null | undefined)[]
) {
  return {
    queryKey: [end.path, given, ...further],
    queryFn: (): Promise<ReplyOf<E>> => call(end, given),
  };
}
