import type { Express } from 'express';
import * as contract from '../../contract/reports';
import type { App } from '../context';
import { serve } from '../http/serve';
import { search } from './search';
import { readCounts, readToday } from './today';

export function figureRoutes(server: Express, app: App): void {
  serve(server, app, contract.readToday, () => readToday(app));
  serve(server, app, contract.readCounts, () => readCounts(app));
  serve(server, app, contract.search, ({ query }) => search(app, query.q));
}
