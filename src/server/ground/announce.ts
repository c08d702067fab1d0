import type { App } from './context';
import { perApp } from './db/prepared';

/** Something that happens on one floor and that higher ones have to do something about. */
export interface Announcement<T> {
  /** Tells those who listen, in the order in which they began to; inside the transaction of whoever tells. */
  tell: (app: App, what: T) => void;
  listen: (app: App, listener: (app: App, what: T) => void) => void;
}

export function announcement<T>(): Announcement<T> {
  const listeners = perApp((): ((app: App, what: T) => void)[] => []);
  return {
    tell: (app, what) => {
      for (const listener of listeners(app)) listener(app, what);
    },
    listen: (app, listener) => {
      listeners(app).push(listener);
    },
  };
}
