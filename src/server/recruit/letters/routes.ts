import * as contract from '../../../contract/recruit/letters';
import { asAffiliate } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { affiliateById } from '../../registers/people/record';
import {
  chooseLetters,
  listTemplates,
  previewMessage,
  readLetters,
  removeTemplate,
  saveTemplate,
  sendMessage,
} from './letters';

export function messageRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listTemplates, () => listTemplates(app));
  serve(site, contract.saveTemplate, ({ actor, body }) => saveTemplate(app, actor, body), {
    tried: true,
  });
  serve(site, contract.removeTemplate, ({ actor, params }) => removeTemplate(app, actor, params.id));
  serve(site, contract.previewMessage, ({ body }) => previewMessage(app, body));
  serve(site, contract.sendMessage, ({ actor, body }) => sendMessage(app, actor, body));
  serve(site, contract.readLetters, ({ params }) => readLetters(app, params.token));
  serve(site, contract.chooseLetters, ({ actor, params, body }) =>
    app.transaction(() => chooseLetters(app, actor, params.token, body.on)),
  );
  serve(site, contract.chooseOwnLetters, ({ actor, body }) =>
    app.transaction(() => ({
      on: chooseLetters(app, actor, affiliateById(app, asAffiliate(actor)), body.on).on,
    })),
  );
}
