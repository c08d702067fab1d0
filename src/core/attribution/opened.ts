/** What of a request says how it was asked for: the method, and fetch metadata where the browser sends it. */
export interface Asked {
  method: string;
  /** Sec-Fetch-Dest and Sec-Fetch-Mode */
  dest: string | undefined;
  mode: string | undefined;
  /** Sec-Purpose, or what browsers sent in its place before: Purpose, X-Purpose, X-Moz */
  purpose: string | undefined;
}

/** Why a request for a tracking link is no click: `dest` is what it was loaded as, null where that is no word of the standard. */
export type NotOpened =
  | { code: 'other-method'; method: string }
  | { code: 'fetched-ahead' }
  | { code: 'loaded-as'; dest: string | null }
  | { code: 'loaded-by-page' };

/**
 * Why a request for a tracking link is no click, or null: only a page that somebody opens, by GET and on its own, is one. A browser that sends no fetch
 * metadata is believed; one that does always says what the answer is for (Sec-Fetch-Dest), programs may send the mode alone. W3C Fetch Metadata Request Headers.
 */
export function notOpened({ method, dest, mode, purpose }: Asked): NotOpened | null {
  if (method !== 'GET') return { code: 'other-method', method };
  if (purpose !== undefined && /prefetch|prerender|preview/i.test(purpose)) return { code: 'fetched-ahead' };
  if (dest !== undefined && dest !== 'document')
    return { code: 'loaded-as', dest: /^[a-z-]{2,20}$/.test(dest) ? dest : null };
  if (dest !== undefined && mode !== undefined && mode !== 'navigate') return { code: 'loaded-by-page' };
  return null;
}

/** The network an address belongs to: the whole address of IPv4, the first 64 bits of IPv6, which one household or server has to itself. */
export function networkOf(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '').replace(/%.*$/, '');
  if (!plain.includes(':')) return plain;
  const [head = '', tail] = plain.split('::');
  const left = head === '' ? [] : head.split(':');
  const right = tail === undefined || tail === '' ? [] : tail.split(':');
  const zeros =
    tail === undefined ? [] : Array.from({ length: Math.max(0, 8 - left.length - right.length) }, () => '0');
  return [...left, ...zeros, ...right]
    .slice(0, 4)
    .map((part) => part.toLowerCase().replace(/^0+(?=.)/, ''))
    .join(':');
}
