import { readCoverage as contract } from '../../../contract/equip/coverage';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { coverageReadings } from './readings';

export function coverageRoutes(site: Site): void {
  serve(site, contract, () => site.app.reader.say(coverageReadings.coverage, {}));
}
