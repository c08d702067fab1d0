import { constants, setPriority } from 'node:os';

/** Lets redirects and reports go before the calling thread wherever a processor is wanted by both. */
export function stepBack(): void {
  // elsewhere 0 is the whole process, which must not step back with it
  if (process.platform !== 'linux') return;
  try {
    setPriority(0, constants.priority.PRIORITY_LOW);
  } catch {
    /* not allowed here: it shares */
  }
}
