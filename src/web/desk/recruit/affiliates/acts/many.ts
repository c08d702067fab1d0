import { useState } from 'react';
import type { RosterFilter } from '../../../../../core/recruiting/roster';
import type { Id } from '../../../../../core/text/id';
import type { Key } from '../../../../kit/keys';
import { selectKeys } from '../../../../kit/list-keys';
import { useSelection } from '../../../../kit/selection';
import type { RosterRow } from '../filter';
import { type Whom } from './bulk';

/** What can be done with many affiliates at once. */
export type Acting =
  'group' | 'card' | 'tag-on' | 'tag-off' | 'pause' | 'resume' | 'looked-after' | 'kind' | 'message';

/** Who is picked in the roster: everybody who fits the sentence, those who are selected, or the one that the keyboard is at. */
export function usePicked(rows: RosterRow[], at: Id<'affiliate'> | null) {
  const chosen = useSelection(rows, (r) => r.id);
  const [everybody, setEverybody] = useState(false);
  const clear = () => {
    chosen.clear();
    setEverybody(false);
  };
  const toggle = (id: Id<'affiliate'>) => {
    setEverybody(false);
    chosen.toggle(id);
  };
  const all = () => {
    chosen.clear();
    setEverybody(true);
  };
  const whom = (filter: RosterFilter): Whom | null => {
    if (everybody) return { filter };
    if (chosen.size) return { ids: [...chosen.ids] };
    return at ? { ids: [at] } : null;
  };
  /** @param total how many fit the sentence */
  const count = (total: number) => (everybody ? total : chosen.size || (at ? 1 : 0));
  const words = (total: number) => {
    if (everybody) return `all ${total.toLocaleString('en-GB')} who fit · `;
    return chosen.size > 0 ? `${chosen.size} selected · ` : '';
  };
  const everybodyKey: Key = { key: 'e', what: 'everybody who fits the sentence', act: all };
  const keys: Key[] = [...selectKeys(at, { ...chosen, toggle, clear }), everybodyKey];
  return {
    has: (id: Id<'affiliate'>) => everybody || chosen.has(id),
    toggle,
    clear,
    whom,
    count,
    words,
    keys,
  };
}
