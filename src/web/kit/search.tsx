import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';

/** A search text that lives in the address, a moment after typing stops. */
export function SearchField({ label }: { label: string }) {
  const [params, setParams] = useSearchParams();
  const [text, setText] = useState(params.get('q') ?? '');
  const inAddress = params.get('q') ?? '';
  useEffect(() => {
    if (text === inAddress) return undefined;
    const here = window.location.pathname;
    const timer = setTimeout(() => {
      // whoever has opened a row meanwhile is on the way there: the list may still be shown while that page is loaded
      if (window.location.pathname !== here) return;
      setParams(
        (p) => {
          const next = new URLSearchParams(p);
          if (text) next.set('q', text);
          else next.delete('q');
          return next;
        },
        { replace: true },
      );
    }, 200);
    return () => clearTimeout(timer);
  }, [text, inAddress, setParams]);
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      maxLength={100}
      className="w-[220px] rounded-sm border border-rule bg-sheet px-2 py-[5px]"
    />
  );
}
