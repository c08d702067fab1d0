import type { Express } from 'express';
import * as contract from '../../../contract/recruit/letters';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
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

export function messageRoutes(server: Express, app: App): void {
  serve(server, app, contract.listTemplates, () => listTemplates(app));
  serve(server, app, contract.saveTemplate, ({ actor, body }) => saveTemplate(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.removeTemplate, ({ actor, params }) => removeTemplate(app, actor, params.id));
  serve(server, app, contract.previewMessage, ({ body }) => previewMessage(app, body));
  serve(server, app, contract.sendMessage, ({ actor, body }) => sendMessage(app, actor, body));
  serve(server, app, contract.readLetters, ({ params }) => readLetters(app, params.token));
  serve(server, app, contract.chooseLetters, ({ actor, params, body }) =>
    app.transaction(() => chooseLetters(app, actor, params.token, body.on)),
  );
  serve(server, app, contract.chooseOwnLetters, ({ actor, body }) =>
    app.transaction(() => ({ on: chooseLetters(app, actor, affiliateById(app, actor.id), body.on).on })),
  );
}
