import { useEffect, useState } from 'react';
import { useLocation, useSearchParams, type Location } from 'react-router';

/** How long after the last key the address changes, in ms. */
const pause = 200;

/** What stands in the field but not yet in the address. */
interface Unsaved {
  /** the address it was typed over */
  at: string;
  /** null: nothing was typed since */
  text: string | null;
  /** the search part that this field wrote last */
  written: string | null;
}

const addressKey = ({ key, search }: Location) => `${key} ${search}`;

/**
 * The text of a search whose one truth is the address. What is typed reaches the address after a pause;
 * when anything else changes the address (a link, Back, the palette), typing that is still pending is dropped.
 */
function useSearchText() {
  const location = useLocation();
  const [params, setParams] = useSearchParams();
  const inAddress = params.get('q') ?? '';
  const here = addressKey(location);
  const [unsaved, setUnsaved] = useState<Unsaved>({ at: here, text: null, written: null });
  if (unsaved.at !== here) {
    const ours = unsaved.written === location.search && unsaved.text !== inAddress;
    setUnsaved({ at: here, text: ours ? unsaved.text : null, written: null });
  }
  const { text } = unsaved;
  useEffect(() => {
    if (text === null || text === inAddress) return undefined;
    const timer = setTimeout(() => {
      // the address has changed already and will be drawn in a moment
      if (window.location.pathname !== location.pathname || window.location.search !== location.search)
        return;
      const next = new URLSearchParams(location.search);
      if (text) next.set('q', text);
      else next.delete('q');
      const written = next.size > 0 ? `?${next.toString()}` : '';
      setUnsaved((now) => ({ ...now, written }));
      setParams(next, { replace: true });
    }, pause);
    return () => clearTimeout(timer);
  }, [text, inAddress, location.pathname, location.search, setParams]);
  const type = (next: string) => setUnsaved((now) => ({ ...now, text: next }));
  return [text ?? inAddress, type] as const;
}

/** A search field whose text lives in the address (`q`). */
export function SearchField({ label }: { label: string }) {
  const [text, type] = useSearchText();
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={label}
      value={text}
      onChange={(e) => type(e.target.value)}
      maxLength={100}
      className="w-[220px] rounded-sm border border-rule bg-sheet px-2 py-[5px]"
    />
  );
}
