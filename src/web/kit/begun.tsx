import { useEffect, useState } from 'react';
import { overtaken, type Overtaken } from '../../core/text/merge';
import { Refused } from './api';
import { Note } from './note';

/** What a form began from: the values and their version, whatever was read since. */
export interface Begun<V> {
  values: V;
  version: number;
}

export const shown = (value: unknown): string =>
  value === '' || value === null || value === undefined
    ? 'empty'
    : typeof value === 'boolean'
      ? value
        ? 'yes'
        : 'no'
      : Array.isArray(value)
        ? value.join(', ') || 'empty'
        : typeof value === 'object'
          ? JSON.stringify(value)
          : String(value);

/**
 * Holds fast to the version that a form began from, so that saving never replaces what others saved meanwhile without a word. Where it was overtaken, what
 * only they changed is taken into the form, and what both changed is shown with both values.
 * @param first what the form shows when it opens: a draft that was kept brings its own beginning
 * @param say a value in words, where it is not its own word
 */
export function useBegun<V extends Record<string, unknown>>(
  first: Begun<V>,
  titles: (field: string) => string,
  say: (value: unknown, field: string) => string = shown,
) {
  const [begun, setBegun] = useState(first);
  const [said, setSaid] = useState<{ detail: string; fields: Overtaken[] } | null>(null);
  /** @returns true if the fault was that the form was overtaken; the form goes on from what is there now */
  const overtake = (
    fault: unknown,
    read: (current: unknown) => Begun<V>,
    mine: V,
    put: (field: string, value: unknown) => void,
  ): boolean => {
    if (!(fault instanceof Refused) || fault.problem.code !== 'stale' || !fault.problem.current) return false;
    const theirs = read(fault.problem.current);
    const fields = overtaken(begun.values, theirs.values, mine);
    for (const f of fields) if (f.taken) put(f.field, f.theirs);
    setBegun(theirs);
    setSaid({ detail: fault.problem.detail, fields });
    return true;
  };
  const restart = (from: Begun<V>) => {
    setBegun(from);
    setSaid(null);
  };
  const note = (put: (field: string, value: unknown) => void) =>
    said && (
      <Note as="div" role="status">
        <p>{said.detail}</p>
        {said.fields.length === 0 && (
          <p className="mt-1">Nothing of it is in this form: saving again keeps both.</p>
        )}
        <ul className="mt-1">
          {said.fields.map((f) => (
            <li key={f.field}>
              <b className="font-semibold">{titles(f.field)}</b>:{' '}
              {f.taken ? (
                <>
                  “{say(f.theirs, f.field)}” now, taken into this form (was “{say(f.before, f.field)}”)
                </>
              ) : (
                <>
                  they “{say(f.theirs, f.field)}”, you “{say(f.mine, f.field)}”; it was “
                  {say(f.before, f.field)}”.{' '}
                  <button
                    type="button"
                    className="link"
                    onClick={() => {
                      put(f.field, f.theirs);
                      setSaid({ ...said, fields: said.fields.filter((x) => x !== f) });
                    }}
                  >
                    Take theirs
                  </button>
                  , or save again to keep yours
                </>
              )}
            </li>
          ))}
        </ul>
      </Note>
    );
  return { begun, overtake, restart, note };
}

/** Where nothing was typed there is nothing to keep: a form that others have overtaken shows what they saved. @param behind true as long as it has to follow */
export function useFollow(behind: boolean, follow: () => void): void {
  useEffect(() => {
    if (behind) follow();
  });
}
