import type { Express } from 'express';
import * as contract from '../../../contract/setup/settings';
import { type App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { checkStrength, hashPasswordSync } from '../../registers/access/passwords';
import { addStaff, editStaff, listStaff } from '../../registers/accounts/staff';
import { dropLogo, setLogo } from '../../registers/catalogue/files';
import { listExchange, setExchange } from '../../registers/exchange/rates';
import { theProgramme } from '../../registers/programme/record';
import {
  readSettings,
  saveBuyerContacts,
  saveMoney,
  saveProgramme,
  saveRecruiting,
  saveTermsSettings,
} from './settings';

export function staffRoutes(server: Express, app: App): void {
  serve(server, app, contract.readProgramme, () => readSettings(app));
  serve(server, app, contract.editProgramme, ({ actor, body }) => saveProgramme(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.editMoney, ({ actor, role, body }) => saveMoney(app, actor, role, body), {
    tried: true,
  });
  serve(server, app, contract.editTermsSettings, ({ actor, body }) => saveTermsSettings(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.editBuyerContacts, ({ actor, body }) => saveBuyerContacts(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.editRecruiting, ({ actor, body }) => saveRecruiting(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.setLogo, async ({ actor, query, req }) => {
    await setLogo(app, actor, query.name, req.body as Buffer);
    return readSettings(app);
  });
  serve(server, app, contract.dropLogo, ({ actor }) => {
    dropLogo(app, actor);
    return readSettings(app);
  });
  serve(server, app, contract.listExchange, () => listExchange(app));
  serve(server, app, contract.setExchange, ({ actor, body }) => setExchange(app, actor, body), {
    tried: true,
  });
  serve(server, app, contract.listStaff, () => listStaff(app));
  // synchronous: the answer is kept in the same transaction; adding a person is rare enough to wait for
  serve(server, app, contract.addStaff, ({ actor, body }) => {
    checkStrength(body.password, [body.name, body.email, theProgramme(app).name]);
    return addStaff(app, actor, body, hashPasswordSync(body.password));
  });
  serve(server, app, contract.editStaff, ({ actor, params, body }) => editStaff(app, actor, params.id, body));
}
