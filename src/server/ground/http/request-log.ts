import { type NextFunction, type Request, type Response } from 'express';
import { type App } from '../context';

/** A path as the log may keep it: what is long enough to be a token is left out. */
export function pathForLog(path: string): string {
  return path
    .slice(0, 300)
    .split('/')
    .map((part) => (part.length > longestId ? '…' : part))
    .join('/');
}

const longestId = 30;

export function requestLog(app: App) {
  return (req: Request, res: Response, next: NextFunction) => {
    const began = performance.now();
    // what follows mounts shortens the path: it is taken now
    const path = pathForLog(req.path);
    res.once('finish', () =>
      app.log.info({
        method: req.method,
        path,
        status: res.statusCode,
        ms: Math.round(performance.now() - began),
      }),
    );
    next();
  };
}
