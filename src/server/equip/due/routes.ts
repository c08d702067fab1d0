import { undoPlanned as contract } from '../../../contract/equip/planned';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { undoPlanned } from './due';

export function plannedRoutes(site: Site): void {
  serve(site, contract, ({ actor, params }) => undoPlanned(site.app, actor, params.id));
}
