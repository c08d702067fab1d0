import { useSearchParams } from 'react-router';

/** The filter of a place, which stands in its address. @param changed called after each change: what was selected under another filter is dropped */
export function useAddress(changed: () => void = () => undefined) {
  const [params, setParams] = useSearchParams();
  return {
    params,
    /** the value of a part of the filter, '' where it is not set */
    get: (key: string) => params.get(key) ?? '',
    /** sets a part of the filter; '' takes it out */
    set: (key: string, value: string) => {
      const next = new URLSearchParams(params);
      if (value) next.set(key, value);
      else next.delete(key);
      setParams(next);
      changed();
    },
    /** another filter in the place of this one */
    replace: (next: URLSearchParams) => {
      setParams(next);
      changed();
    },
  };
}
