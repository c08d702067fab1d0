import type { LookupAddress } from 'node:dns';
import { lookup } from 'node:dns/promises';
import { request as plain, type IncomingMessage } from 'node:http';
import { request as secure } from 'node:https';
import { BlockList, isIP } from 'node:net';

/** Milliseconds for a page with all of its redirects, redirects that are followed, and bytes of a page that are waited for. */
export const patience = 4_000;
const mostRedirects = 3;
const mostBytes = 256 * 1024;

// what is not the internet: this machine, its network, and what is kept for other uses (IANA special-purpose registries)
const inside = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.0.2.0', 24],
  ['192.88.99.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['198.51.100.0', 24],
  ['203.0.113.0', 24],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const)
  inside.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 128],
  ['::1', 128],
  ['64:ff9b::', 96],
  ['64:ff9b:1::', 48],
  ['100::', 64],
  ['2001::', 23],
  ['2001:db8::', 32],
  ['2002::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  inside.addSubnet(net, bits, 'ipv6');

/** True for an address that only this machine or its network can reach: nothing there is asked for, whatever name leads to it. */
export function isInside(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return inside.check(mapped, 'ipv4');
  // other spellings of an IPv4 address in IPv6
  if (/^::(ffff:)?[0-9a-f]/i.test(address) && address !== '::1') return true;
  return inside.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4');
}

export class Unreached extends Error {}

/** Ways to hosts that are asked for although they are inside: the stand-ins of the demo, by name. */
export type Exceptions = (host: string) => boolean;

type Resolve = (host: string) => Promise<LookupAddress[]>;
const resolveAll: Resolve = (host) => lookup(host, { all: true });

/** An address of a host that may be asked. The connection is made to it and to no other: a name cannot lead elsewhere between the look and the call. @throws Unreached */
async function addressFor(url: URL, excepted: Exceptions, resolve: Resolve): Promise<LookupAddress> {
  const host = url.hostname.replace(/^\[(.*)\]$/, '$1');
  const found = isIP(host)
    ? [{ address: host, family: isIP(host) }]
    : await resolve(host).catch(() => {
        throw new Unreached('its host is not known');
      });
  if (!found.length) throw new Unreached('its host is not known');
  if (!excepted(url.host) && found.some((a) => isInside(a.address)))
    throw new Unreached('leads into a private network, where nothing is asked for');
  return found[0]!;
}

function ask(
  url: URL,
  to: LookupAddress,
  signal: AbortSignal,
): Promise<{ status: number; location: string | undefined }> {
  return new Promise((done, failed) => {
    const start = url.protocol === 'https:' ? secure : plain;
    const call = start(
      url,
      {
        method: 'GET',
        signal,
        agent: false,
        maxHeaderSize: 16 * 1024,
        headers: { 'user-agent': 'Gravenel page check (bot)', accept: 'text/html,*/*' },
        lookup: (_host, options, answer) => {
          if (options.all) answer(null, [to]);
          else answer(null, to.address, to.family);
        },
      },
      (res: IncomingMessage) => {
        const said = { status: res.statusCode ?? 0, location: res.headers.location };
        let bytes = 0;
        // what a page says is not read, only that it comes; a page without an end is let go
        res.on('data', (part: Buffer) => {
          bytes += part.length;
          if (bytes > mostBytes) {
            res.destroy();
            done(said);
          }
        });
        res.on('end', () => done(said));
        res.on('error', failed);
      },
    );
    call.on('error', failed);
    call.end();
  });
}

export interface Reached {
  status: number;
  fault: string | null;
}

const faultOf = (thrown: unknown): string => {
  if (thrown instanceof Unreached) return thrown.message;
  const { name, code } = thrown as { name?: string; code?: string };
  if (name === 'TimeoutError' || name === 'AbortError' || code === 'ABORT_ERR')
    return `does not answer within ${patience / 1000} seconds`;
  return 'cannot be reached';
};

/** Asks a page whether it answers, with all of its redirects looked at each. Never throws. @param address as links lead there @param played the stand-in that plays a host, if one does */
export async function reach(
  address: string,
  played: (host: string) => string | undefined,
  resolve: Resolve = resolveAll,
): Promise<Reached> {
  const signal = AbortSignal.timeout(patience);
  const standins = new Set<string>();
  try {
    let url = new URL(address);
    for (let hop = 0; hop <= mostRedirects; hop += 1) {
      const standin = played(url.host);
      if (standin) {
        url = new URL(url.pathname + url.search, standin);
        standins.add(url.host);
      }
      if (url.protocol !== 'https:' && url.protocol !== 'http:')
        throw new Unreached(`leads to ${url.protocol}, which is no web page`);
      const { status, location } = await ask(
        url,
        await addressFor(url, (host) => standins.has(host), resolve),
        signal,
      );
      if (status < 300 || status > 399 || location === undefined)
        return { status, fault: status >= 200 && status < 300 ? null : `answers ${status}` };
      url = new URL(location, url);
    }
    return { status: 0, fault: `redirects more than ${mostRedirects} times` };
  } catch (thrown) {
    return { status: 0, fault: faultOf(thrown) };
  }
}
