import { useSearchParams } from 'react-router';
import { isId, type Id, type IdKind } from '../../core/text/id';

/** The filter of a place, which stands in its address. @param changed called after each change: what was selected under another filter is dropped */
export function useAddress(changed: () => void = () => undefined) {
  const [params, setParams] = useSearchParams();
  /** sets parts of the filter at once; '' takes one out */
  const put = (parts: Record<string, string>, options: { replace?: boolean } = {}) => {
    setParams((now) => {
      const next = new URLSearchParams(now);
      for (const [key, value] of Object.entries(parts))
        if (value) next.set(key, value);
        else next.delete(key);
      return next;
    }, options);
    changed();
  };
  return {
    params,
    /** the value of a part of the filter, '' where it is not set */
    get: (key: string) => params.get(key) ?? '',
    /** the id that a part of the filter is, null where it is not set or none of this kind */
    id: <K extends IdKind>(key: string, kind: K): Id<K> | null => {
      const value = params.get(key) ?? '';
      return isId(value, kind) ? value : null;
    },
    set: (key: string, value: string) => put({ [key]: value }),
    put,
    /** another filter in the place of this one */
    replace: (next: URLSearchParams) => {
      setParams(next);
      changed();
    },
  };
}
