import type { Express, Request, RequestHandler } from 'express';
import { Problem } from './problem';

/** A route of the router, which its types know without what it matches. */
type Layer = Express['router']['stack'][number] & { match: (path: string) => boolean };

/** The methods that an address takes, in capitals; none where there is no such address. */
function methodsAt(server: Express, path: string): string[] {
  const found = new Set<string>();
  for (const layer of server.router.stack as Layer[])
    if (layer.route && layer.match(path))
      for (const { method } of layer.route.stack) found.add(method.toUpperCase());
  if (found.has('GET')) found.add('HEAD');
  return [...found].sort();
}

/** Refuses a method that a known address does not take with 405, and names those that it takes. Stands behind all routes. */
export const refuseMethod =
  (server: Express): RequestHandler =>
  (req: Request, res, next) => {
    const methods = methodsAt(server, req.path);
    if (!methods.length || methods.includes(req.method)) return next();
    res.set('allow', methods.join(', '));
    throw new Problem('wrong-method', `${req.method} is not taken here; send ${methods.join(' or ')}`);
  };
