import type { Express } from 'express';
import * as contract from '../../../contract/lookback/today';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { copyCount } from '../../recruit/prospects/copy';
import { lookbackReadings } from '../readings';
import { missingForLive } from './missing';
import { troubles } from './today';

export function figureRoutes(server: Express, app: App): void {
  serve(server, app, contract.readToday, () =>
    app.reader.say(lookbackReadings.today, { troubles: troubles(app) }),
  );
  serve(server, app, contract.readCounts, () =>
    app.reader.say(lookbackReadings.counts, { troubles: troubles(app) }),
  );
  serve(server, app, contract.readMissing, () => ({ rows: missingForLive(app) }));
  serve(server, app, contract.search, ({ query }) =>
    app.reader.say(lookbackReadings.search, { q: query.q, stamp: copyCount(app) }),
  );
}
