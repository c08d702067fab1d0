import type { IncomingMessage } from 'node:http';
import type { RequestHandler } from 'express';
import proxyaddr from 'proxy-addr';
import { Problem } from './problem';

const loopback = new Set(['127.0.0.1', 'localhost', '[::1]']);

/** The origins that are this server: the configured address, and on one machine every name that the machine has for itself. */
export function ownOrigins(address: string): ReadonlySet<string> {
  const own = new URL(address);
  const names = loopback.has(own.hostname) ? [...loopback] : [own.hostname];
  return new Set(names.map((name) => `${own.protocol}//${name}${own.port ? `:${own.port}` : ''}`));
}

/**
 * Refuses a state-changing request that a browser sends from another site. What the request says of its own host proves nothing: any name can be
 * made to lead here.
 */
export function originCheck(address: string): RequestHandler {
  const own = ownOrigins(address);
  return (req, _res, next) => {
    if (req.method === 'GET' || req.method === 'HEAD' || req.method === 'OPTIONS') return next();
    const origin = req.get('origin');
    const site = req.get('sec-fetch-site');
    const fits =
      origin === undefined
        ? site === undefined || site === 'same-origin' || site === 'none'
        : own.has(origin);
    return next(
      fits
        ? undefined
        : new Problem('wrong-origin', `State can be changed from Gravenel’s own pages only, at ${address}`),
    );
  };
}

/** Who may say in X-Forwarded-For and X-Forwarded-Proto for whom a request is: nobody, where no proxy is named. */
export type Trust = (address: string, hop: number) => boolean;

/** @param proxies addresses, ranges such as 10.0.0.0/8, or the names loopback, linklocal, uniquelocal @throws Error with a sentence */
export function trustOf(proxies: readonly string[]): Trust {
  try {
    return proxyaddr.compile([...proxies]);
  } catch {
    throw new Error(
      `GRAVENEL_TRUST_PROXY must name proxies by address or range, parted by commas, such as “127.0.0.1, 10.0.0.0/8”, not “${proxies.join(', ')}”`,
    );
  }
}

/** The network address that a request comes from: the peer, or what a trusted proxy says of it. */
export function addressOf(req: IncomingMessage, trust: Trust): string {
  const peer = req.socket.remoteAddress ?? '';
  return trust(peer, 0) ? proxyaddr(req, trust) : peer;
}
