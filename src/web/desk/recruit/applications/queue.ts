import { useQuery } from '@tanstack/react-query';
import { useNavigate, useParams } from 'react-router';
import { listApplications, readApplication } from '../../../../contract/recruit/applications';
import { applicationStates } from '../../../../core/recruiting/states';
import { isId, type Id } from '../../../../core/text/id';
import { useAddress } from '../../../kit/address';
import { asking } from '../../../kit/asking';
import type { Key } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { useSelection } from '../../../kit/selection';

export type QueueState = ReturnType<typeof useQueue>;

/** The applications that the address asks for. */
function useAsked(clear: () => void) {
  const address = useAddress(clear);
  const state = applicationStates.find((s) => s === address.get('state')) ?? 'waiting';
  const product = address.id('product', 'product');
  const q = address.get('q');
  const list = useList(listApplications, {
    state,
    ...(product ? { product } : {}),
    ...(q ? { q } : {}),
  });
  return { address, state, product, list };
}

/** The application that is shown: the one that the address or the keyboard is at, or the first. */
function useShown(rows: { id: Id<'application'>; state: string }[], address: ReturnType<typeof useAddress>) {
  const { id = '' } = useParams();
  const named = isId(id, 'application') ? id : null;
  const navigate = useNavigate();
  const { at, setAt } = useCursor(rows, (r) => r.id, named);
  const shownId = at && rows.some((r) => r.id === at) ? at : (named ?? rows[0]?.id ?? null);
  const current = useQuery({
    ...asking(readApplication, { params: { id: shownId! } }),
    enabled: shownId !== null,
  });
  const go = (to: Id<'application'> | undefined) => {
    if (!to) return;
    setAt(to);
    const search = address.params.toString();
    void navigate(`/applications/${to}${search ? `?${search}` : ''}`, { replace: true });
  };
  return { shownId, current, go };
}

/** The applications that the address asks for, the one that is shown, and those that are selected. */
export function useQueue() {
  const asked = useAsked(() => selected.clear());
  const { rows } = asked.list;
  const selected = useSelection(rows, (r) => r.id);
  const { shownId, current, go } = useShown(rows, asked.address);
  const index = rows.findIndex((r) => r.id === shownId);
  const step = (by: number) => go(rows[Math.min(rows.length - 1, Math.max(0, index + by))]?.id);
  const toggleShown = () => {
    if (shownId) selected.toggle(shownId);
  };
  const upToHere = () => selected.only(rows.slice(0, index + 1).map((r) => r.id));
  const keys: Key[] = [
    { key: 'j', what: 'next', act: () => step(1) },
    { key: 'k', what: 'one before', act: () => step(-1) },
    { key: 'x', what: 'select', act: toggleShown },
    { key: 'X', what: 'select from the first to here', act: upToHere },
    { key: 'Escape', what: 'drop the selection', act: selected.clear },
  ];
  const state = current.data?.state;
  return {
    ...asked,
    counts: (asked.list.first?.counts ?? {}) as Record<string, number>,
    shownId,
    current,
    selected,
    /** those that an act is for; the state is known from the row at once: a key pressed while the sheet still loads counts */
    chosen: chosenOf(selected.ids, shownId, rows[index]?.state ?? state),
    decided: state === 'approved' || state === 'declined',
    go,
    /** goes on to the next one that stays */
    leave: (gone: Id<'application'>[]) => {
      const rest = rows.filter((r) => !gone.includes(r.id));
      go(rest[Math.min(Math.max(0, index), rest.length - 1)]?.id);
    },
    keys,
  };
}

/** The selected ones, or the one that is shown if it is open. */
function chosenOf(
  selected: ReadonlySet<Id<'application'>>,
  shownId: Id<'application'> | null,
  shownState: string | undefined,
): Id<'application'>[] {
  if (selected.size > 0) return [...selected];
  return shownId && (shownState === 'waiting' || shownState === 'asked') ? [shownId] : [];
}
