import type { Express } from 'express';
import * as contract from '../../contract/setup/settings';
import type { App } from '../ground/context';
import { serve } from '../ground/http/serve';
import { moveClock, readClock } from './clock';
import { outside } from './outside';

/** The programme's clock, and moving a demo's on. */
export function clockRoutes(server: Express, app: App): void {
  serve(server, app, contract.readClock, () => readClock(app));
  serve(server, app, contract.moveClock, ({ actor, body }) => {
    const moved = moveClock(app, actor, body.by);
    // answers come with the clock: looked for once what was moved is on disk
    setImmediate(() => void outside(app, true));
    return moved;
  });
}
