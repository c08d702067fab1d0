import { randomUUID } from 'node:crypto';
import { callPaths, type TrackedCall } from '../../core/tracking/calls';
import { signHeaders } from '../signing';
import type { Offer, Priced, Records, Told } from './records';

export interface ShopOptions {
  /** Gravenel's address, used until the shop's switches say another */
  gravenel: string;
}

/** What is offered after what was bought. */
export interface AlsoOffered {
  code: string;
  name: string;
  price: Priced | null;
  page: string;
  picture: string;
}

/** An answer in JSON; null where there is none, or not a good one. */
async function asked<T>(address: string, headers: Record<string, string> = {}): Promise<T | null> {
  try {
    const answer = await fetch(address, { signal: AbortSignal.timeout(5000), headers });
    return answer.ok ? ((await answer.json()) as T) : null;
  } catch {
    return null;
  }
}

async function tell({ setting }: Records, address: string, call: TrackedCall, body: object): Promise<Told> {
  const text = JSON.stringify(body);
  const headers = signHeaders({
    key: setting('key', ''),
    secret: setting('secret', ''),
    id: `msg_${randomUUID()}`,
    timestamp: String(Math.floor(Date.now() / 1000)),
    body: text,
  });
  try {
    const answer = await fetch(`${address}${callPaths[call]}`, {
      method: 'POST',
      body: text,
      signal: AbortSignal.timeout(10_000),
      headers: { 'content-type': 'application/json', ...headers },
    });
    return { call, status: answer.status, said: await answer.text() };
  } catch (fault) {
    return { call, status: 0, said: fault instanceof Error ? fault.message : 'no answer' };
  }
}

export type Gravenel = ReturnType<typeof gravenelOf>;

/** Gravenel as the shop knows it: the tracking contract and the open questions, nothing else. */
export function gravenelOf(records: Records, options: ShopOptions) {
  const address = () => records.setting('gravenel', options.gravenel);
  return {
    address,
    /** the shop's date: the demo clock's where there is one, so that orders and visits share a calendar */
    today: async (): Promise<string> => {
      const clock = await asked<{ now: number }>(`${address()}/api/v1/clock`);
      return new Date(clock?.now ?? Date.now()).toISOString();
    },
    /** reports, signed */
    tell: (call: TrackedCall, body: object) => tell(records, address(), call, body),
    /** what Gravenel says of a product now, or null where it does not know it or does not answer */
    offerOf: (code: string, language = '') =>
      asked<Offer>(`${address()}/api/open/v1/products/${encodeURIComponent(code)}`, {
        'accept-language': language || '*',
      }),
    /** what it would offer after what was bought */
    alsoOffered: async (bought: string[]): Promise<AlsoOffered[]> => {
      const query = new URLSearchParams({ bought: bought.join(',') }).toString();
      const answer = await asked<{ offers: AlsoOffered[] }>(`${address()}/api/open/v1/confirmation?${query}`);
      return answer?.offers ?? [];
    },
  };
}
