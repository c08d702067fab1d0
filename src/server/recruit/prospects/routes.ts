import type { Express } from 'express';
import * as contract from '../../../contract/recruit/prospects';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { copyOf, copyRegistry } from './copy';
import { inviteProspects, previewInvite, withdrawInvite } from './invites';
import { listInvites, listProspects, readProspect, tagProspects } from './service';

export function prospectRoutes(server: Express, app: App): void {
  serve(server, app, contract.listProspects, ({ query }) => listProspects(app, query));
  serve(server, app, contract.tagProspects, ({ actor, body }) => tagProspects(app, actor, body));
  serve(server, app, contract.previewInvite, ({ body }) => previewInvite(app, body));
  serve(server, app, contract.inviteProspects, ({ actor, body }) => inviteProspects(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.listInvites, ({ query }) => listInvites(app, query));
  serve(server, app, contract.withdrawInvite, ({ actor, params }) => withdrawInvite(app, actor, params.id));
  serve(server, app, contract.refreshProspects, async () => {
    await copyRegistry(app, true);
    return copyOf(app);
  });
  serve(server, app, contract.readProspect, ({ params }) => readProspect(app, params.id));
}
