import type { Express } from 'express';
import * as contract from '../../../contract/lookback/audit';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { listAudit } from './audit';

export function auditRoutes(server: Express, app: App): void {
  serve(server, app, contract.listAudit, ({ query }) => listAudit(app, query));
}
