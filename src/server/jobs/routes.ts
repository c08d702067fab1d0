import * as contract from '../../contract/setup/settings';
import { serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { moveClock, readClock } from './clock';
import { outside } from './outside';

/** The programme's clock, and moving a demo's on. */
export function clockRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readClock, () => readClock(app));
  serve(site, contract.moveClock, ({ actor, body }) => {
    const moved = moveClock(app, actor, body.by);
    // answers come with the clock: looked for once what was moved is on disk
    setImmediate(() => void outside(app, true));
    return moved;
  });
}
