import * as contract from '../../../contract/recruit/practices';
import { readPublishing } from '../../../contract/setup/policy';
import { asAffiliate } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { answerPractice, endPermission, permissionsOf } from './permissions';
import { practiceReadings } from './readings';

export function practiceRoutes(site: Site): void {
  const { app } = site;
  serve(site, readPublishing, ({ params }) => app.reader.say(practiceReadings.publishing, params));
  serve(site, contract.answerPractice, ({ actor, params, body }) =>
    answerPractice(app, actor, params.id, body),
  );
  serve(site, contract.readOwnPermissions, ({ actor }) => ({
    rows: permissionsOf(app, asAffiliate(actor)).map(({ practice: _practice, by: _by, ...shown }) => shown),
  }));
  serve(site, contract.endPermission, ({ actor, params }) => endPermission(app, actor, params.id));
}
