import { useEffect, useRef, useState } from 'react';
import { Dialog } from './dialog';

export interface Key {
  /** as KeyboardEvent.key gives it: "j", "Enter", "?" */
  key: string;
  what: string;
  act: () => void;
}

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) &&
    (target as HTMLInputElement).type !== 'checkbox'
  );
}

/** Letter keys of a place; ? lists them. Nothing happens while somebody types or a dialog is open. @returns the list as a dialog */
export function useKeys(keys: Key[]) {
  const [listed, setListed] = useState(false);
  const now = useRef(keys);
  useEffect(() => {
    now.current = keys;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || typing(event.target))
        return;
      if (document.querySelector('[role=dialog],[role=menu]')) return;
      if (
        event.key === 'Enter' &&
        event.target instanceof HTMLElement &&
        /^(A|BUTTON)$/.test(event.target.tagName)
      )
        return;
      if (event.key === '?') {
        event.preventDefault();
        setListed(true);
        return;
      }
      const found = now.current.find(
        (k) =>
          k.key === event.key ||
          (k.key.length === 1 &&
            k.key === event.key.toLowerCase() &&
            !(event.shiftKey && now.current.some((o) => o.key === event.key))),
      );
      if (!found) return;
      event.preventDefault();
      found.act();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, []);
  return (
    <Dialog open={listed} onClose={() => setListed(false)} title="Keys of this place">
      <table className="sums">
        <tbody>
          {[
            ...keys.filter((k) => k.what),
            { key: 'Ctrl K', what: 'find or do anything', act: () => undefined },
          ].map((k) => (
            <tr key={k.key}>
              <td>{k.what}</td>
              <td>
                <kbd>{k.key === ' ' ? 'Space' : k.key}</kbd>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Dialog>
  );
}
