import { useState } from 'react';
import { bindingsOf, isTaken, useBoundKeys } from './bound-keys';
import { Dialog } from './dialog';

export interface Key {
  /** as KeyboardEvent.key gives it: "j", "Enter", "?" */
  key: string;
  what: string;
  act: () => void;
}

/** What is open above the place has the keys to itself. */
const covered = () => document.querySelector('[role=dialog],[role=menu],[role=listbox]') !== null;

/** Letter keys of a place; ? lists them. Nothing happens while somebody types or a dialog is open. @returns the list as a dialog */
export function useKeys(keys: Key[]) {
  const [listed, setListed] = useState(false);
  const all = [...keys, { key: '?', act: () => setListed(true) }];
  const bindings = bindingsOf(all.map((k) => k.key));
  useBoundKeys(
    // the first of two with the same key has it
    Object.fromEntries(all.flatMap((k, i) => bindings[i]!.map((b) => [b, k.act] as const)).reverse()),
    (event) => isTaken(event) || covered(),
  );
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
