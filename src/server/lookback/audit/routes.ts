import * as contract from '../../../contract/lookback/audit';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { listAudit } from './audit';

export function auditRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listAudit, ({ query }) => listAudit(app, query));
}
