import { create } from 'zustand';

export type Side = 'desk' | 'portal';

interface Signed {
  /** the side whose session has ended while a page was open; null = none */
  expired: Side | null;
  done: () => void;
}

let waiting: (() => void)[] = [];

/** Whether a session has ended in the middle of work. The frame shows the sign-in above the page, which stays as it is. */
export const useSigned = create<Signed>((set) => ({
  expired: null,
  done: () => {
    set({ expired: null });
    const resume = waiting;
    waiting = [];
    resume.forEach((go) => go());
  },
}));

/** Resolves once the person has signed in again. */
export function askToSignIn(side: Side): Promise<void> {
  useSigned.setState({ expired: side });
  return new Promise((resolve) => waiting.push(resolve));
}
