import { readFile } from 'node:fs/promises';
import * as contract from '../../../contract/equip/creatives';
import * as material from '../../../contract/equip/material';
import * as planned from '../../../contract/equip/planned';
import * as results from '../../../contract/equip/results';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { lighten, takeFile } from './files';
import { changeMany, undoMany } from './many';
import { planChange } from './planned';
import { creativeReadings } from './readings';
import { createCreative, editCreative, removeCreative } from './service';
import { showCreative } from './view';

export function creativeRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listCreatives, ({ query }) => app.reader.say(creativeReadings.creatives, query));
  serve(site, contract.surveyCreatives, () => app.reader.say(creativeReadings.creativeSurvey, {}));
  serve(site, results.readCreativeResults, ({ params }) =>
    app.reader.say(creativeReadings.creativeResults, params),
  );
  serve(site, contract.readCreative, ({ params }) => showCreative(app, params.id));
  serve(site, contract.createCreative, ({ actor, body }) => createCreative(app, actor, body), {
    tried: true,
  });
  serve(site, contract.editCreative, ({ actor, params, body }) => editCreative(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, contract.removeCreative, ({ actor, params, body }) =>
    removeCreative(app, actor, params.id, body.on),
  );
  serve(site, material.uploadMaterial, ({ actor, query, req }) =>
    takeFile(app, actor, { name: query.name, bytes: req.body as Buffer }),
  );
  serve(site, material.lightenMaterial, ({ actor, params }) => lighten(app, actor, params.hash, readFile));
  serve(site, planned.planChange, ({ actor, params, body }) => planChange(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, planned.changeMany, ({ actor, body }) => changeMany(app, actor, body));
  serve(site, planned.undoMany, ({ actor, body }) => undoMany(app, actor, body.act));
}
