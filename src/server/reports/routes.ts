import type { Express } from 'express';
import * as contract from '../../contract/reports';
import type { App } from '../context';
import { serve } from '../http/serve';
import { copyCount } from '../prospects/copy';
import { troubles } from './today';

export function figureRoutes(server: Express, app: App): void {
  serve(server, app, contract.readToday, () => app.reader.say('today', { troubles: troubles(app) }));
  serve(server, app, contract.readCounts, () => app.reader.say('counts', { troubles: troubles(app) }));
  serve(server, app, contract.search, ({ query }) =>
    app.reader.say('search', { q: query.q, stamp: copyCount(app) }),
  );
}
