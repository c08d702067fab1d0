/** What of a request says how it was asked for: the method, and fetch metadata where the browser sends it. */
export interface Asked {
  method: string;
  /** Sec-Fetch-Dest and Sec-Fetch-Mode */
  dest: string | undefined;
  mode: string | undefined;
  /** Sec-Purpose, or what browsers sent in its place before: Purpose, X-Purpose, X-Moz */
  purpose: string | undefined;
}

/**
 * Why a request for a tracking link is no click, or null: only a page that somebody opens, by GET and on its own, is one. A browser that sends no fetch
 * metadata is believed; one that does always says what the answer is for (Sec-Fetch-Dest), programs may send the mode alone. W3C Fetch Metadata Request Headers.
 */
export function notOpened({ method, dest, mode, purpose }: Asked): string | null {
  if (method !== 'GET') return `asked for by ${method}, not opened`;
  if (purpose !== undefined && /prefetch|prerender|preview/i.test(purpose))
    return 'fetched ahead, not opened';
  if (dest !== undefined && dest !== 'document')
    return `loaded as ${/^[a-z-]{2,20}$/.test(dest) ? dest : 'a part of a page'}, not opened as a page`;
  if (dest !== undefined && mode !== undefined && mode !== 'navigate')
    return 'loaded by a page, not opened as one';
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
