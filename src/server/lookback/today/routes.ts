import type { Express } from 'express';
import * as contract from '../../../contract/lookback/today';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { copyCount } from '../../recruit/prospects/copy';
import { troubles } from './today';

export function figureRoutes(server: Express, app: App): void {
  serve(server, app, contract.readToday, () => app.reader.say('today', { troubles: troubles(app) }));
  serve(server, app, contract.readCounts, () => app.reader.say('counts', { troubles: troubles(app) }));
  serve(server, app, contract.search, ({ query }) =>
    app.reader.say('search', { q: query.q, stamp: copyCount(app) }),
  );
}
