import * as contract from '../../../contract/setup/settings';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
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

export function staffRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readProgramme, () => readSettings(app));
  serve(site, contract.editProgramme, ({ actor, body }) => saveProgramme(app, actor, body), {
    tried: true,
  });
  serve(site, contract.editMoney, ({ actor, role, body }) => saveMoney(app, actor, role, body), {
    tried: true,
  });
  serve(site, contract.editTermsSettings, ({ actor, body }) => saveTermsSettings(app, actor, body), {
    tried: true,
  });
  serve(site, contract.editBuyerContacts, ({ actor, body }) => saveBuyerContacts(app, actor, body), {
    tried: true,
  });
  serve(site, contract.editRecruiting, ({ actor, body }) => saveRecruiting(app, actor, body), {
    tried: true,
  });
  serve(site, contract.setLogo, async ({ actor, query, req }) => {
    await setLogo(app, actor, query.name, req.body as Buffer);
    return readSettings(app);
  });
  serve(site, contract.dropLogo, ({ actor }) => {
    dropLogo(app, actor);
    return readSettings(app);
  });
  serve(site, contract.listExchange, () => listExchange(app));
  serve(site, contract.setExchange, ({ actor, body }) => setExchange(app, actor, body), {
    tried: true,
  });
  serve(site, contract.listStaff, () => listStaff(app));
  // synchronous: the answer is kept in the same transaction; adding a person is rare enough to wait for
  serve(site, contract.addStaff, ({ actor, body }) => {
    checkStrength(body.password, [body.name, body.email, theProgramme(app).name]);
    return addStaff(app, actor, body, hashPasswordSync(body.password));
  });
  serve(site, contract.editStaff, ({ actor, params, body }) => editStaff(app, actor, params.id, body));
}
