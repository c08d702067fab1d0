import * as contract from '../../../contract/lookback/today';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { copyCount } from '../../recruit/prospects/copy';
import { lookbackReadings } from '../readings';
import { missingForLive } from './missing';
import { troubles } from './today';

export function figureRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readToday, () => app.reader.say(lookbackReadings.today, { troubles: troubles(app) }));
  serve(site, contract.readCounts, () =>
    app.reader.say(lookbackReadings.counts, { troubles: troubles(app) }),
  );
  serve(site, contract.readMissing, () => ({ rows: missingForLive(app) }));
  serve(site, contract.search, ({ query }) =>
    app.reader.say(lookbackReadings.search, { q: query.q, stamp: copyCount(app) }),
  );
}
