import * as contract from '../../../contract/recruit/prospects';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { copyOf, copyRegistry } from './copy';
import { inviteProspects, previewInvite, withdrawInvite } from './invites';
import { listInvites, listProspects, readProspect, tagProspects } from './service';

export function prospectRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listProspects, ({ query }) => listProspects(app, query));
  serve(site, contract.tagProspects, ({ actor, body }) => tagProspects(app, actor, body));
  serve(site, contract.previewInvite, ({ body }) => previewInvite(app, body));
  serve(site, contract.inviteProspects, ({ actor, body }) => inviteProspects(app, actor, body), {
    tried: true,
  });
  serve(site, contract.listInvites, ({ query }) => listInvites(app, query));
  serve(site, contract.withdrawInvite, ({ actor, params }) => withdrawInvite(app, actor, params.id));
  serve(site, contract.refreshProspects, async () => {
    await copyRegistry(app, true);
    return copyOf(app);
  });
  serve(site, contract.readProspect, ({ params }) => readProspect(app, params.id));
}
