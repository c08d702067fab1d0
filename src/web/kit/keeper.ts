import { newKey, Refused } from './api';

/** One key for each act that a form or a dialog sends, kept until an answer came. */
export interface Keeper {
  /**
   * Sends with the key of what is sent: the same while it is on its way, and after its answer was lost.
   * @param about which record the act is about: a lost answer of another one has nothing to do with it
   */
  send: <R>(about: unknown, content: unknown, work: (key: string) => Promise<R>) => Promise<R>;
}

const isLost = (fault: unknown) => !(fault instanceof Refused) || fault.problem.status === 0;

/**
 * Makes a keeper. A second click while the first is on its way, and a repeat after a lost answer, carry the same key, so that the server does nothing
 * twice. What was changed after a lost answer carries it too: if the first had been done after all, the server says so instead of doing both.
 */
export function newKeeper(): Keeper {
  const underWay = new Map<string, string>();
  const lost = new Map<string, string>();
  return {
    async send(about, content, work) {
      const record = JSON.stringify(about ?? null);
      const name = JSON.stringify([about, content]);
      const key = underWay.get(name) ?? lost.get(record) ?? newKey();
      underWay.set(name, key);
      try {
        const reply = await work(key);
        lost.delete(record);
        return reply;
      } catch (fault) {
        if (isLost(fault)) lost.set(record, key);
        else lost.delete(record);
        throw fault;
      } finally {
        underWay.delete(name);
      }
    },
  };
}

/** What a fault says to a person. */
export function faultInWords(fault: unknown): string {
  if (!(fault instanceof Refused)) return 'Something went wrong in this page; what you typed is kept.';
  if (fault.problem.code === 'key-reused')
    return 'What you sent before, whose answer was lost, has been done. Look at it before you send this as well.';
  return fault.problem.detail;
}
