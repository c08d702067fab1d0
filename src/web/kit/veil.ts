import { create } from 'zustand';

interface Veil {
  veiled: boolean;
  toggle: () => void;
}

const kept = 'gravenel-veil';
const mark = (on: boolean) => {
  document.documentElement.toggleAttribute('data-veil', on);
};

function remembered(): boolean {
  const on = typeof sessionStorage !== 'undefined' && sessionStorage.getItem(kept) === '1';
  if (typeof document !== 'undefined') mark(on);
  return on;
}

/** Whether names, addresses and amounts are hidden on the screen; it stays so across a reload of the tab. */
export const useVeil = create<Veil>((set, get) => ({
  veiled: remembered(),
  toggle: () => {
    const on = !get().veiled;
    sessionStorage.setItem(kept, on ? '1' : '0');
    mark(on);
    set({ veiled: on });
  },
}));

/** V, where nobody is typing. */
export function isVeilKey(event: KeyboardEvent): boolean {
  const at = event.target;
  const typing =
    at instanceof HTMLElement &&
    (at.isContentEditable ||
      /^(TEXTAREA|SELECT)$/.test(at.tagName) ||
      (at.tagName === 'INPUT' && (at as HTMLInputElement).type !== 'checkbox'));
  return event.key.toLowerCase() === 'v' && !typing && !event.ctrlKey && !event.metaKey && !event.altKey;
}
