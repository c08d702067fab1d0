import { create } from 'zustand';
import { isTyped, useBoundKeys } from './bound-keys';

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

/** V draws the veil and lifts it, where nobody is typing. */
export function useVeilKey(): void {
  const { toggle } = useVeil.getState();
  useBoundKeys({ v: toggle, 'Shift+v': toggle }, isTyped);
}
