import type { Express } from 'express';
import type { App } from '../context';

/** Where calls are mounted, and what answers them. */
export interface Site {
  server: Express;
  app: App;
}
