import type { Express } from 'express';
import * as book from '../../../contract/setup/rate-book';
import * as contract from '../../../contract/setup/sets';
import * as shares from '../../../contract/setup/shares';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { affiliateById } from '../../registers/people/record';
import { addPartner, readCoOwners, setCoOwners } from './coowners';
import {
  dateDraft,
  discardDraft,
  draftRate,
  draftSwitch,
  dropChange,
  openDraft,
  saveDraft,
  show,
} from './drafts';
import {
  addMembers,
  dropMembers,
  listMembers,
  previewMembers,
  previewPlaces,
  readPlaces,
  setPlaces,
} from './members';
import { ask } from './ratebook';
import { termsReadings } from './readings';
import { readReferral, setReferral } from './referrals';
import { cancelRehearsal, compareLine, readRehearsal, startRehearsal } from './rehearsals';
import { createSet, editSet, makeStandard, orderTags, pauseSet, removeSet, restoreSet } from './sets';
import { readTimeline, undoTimeline } from './timeline';

export function termsRoutes(server: Express, app: App): void {
  serve(server, app, shares.readReferral, ({ params }) => readReferral(app, params.id));
  serve(
    server,
    app,
    shares.setReferral,
    ({ actor, params, body }) => setReferral(app, actor, params.id, body),
    { tried: true },
  );
  serve(server, app, shares.readCoOwners, ({ params }) => readCoOwners(app, params.id));
  serve(
    server,
    app,
    shares.setCoOwners,
    ({ actor, params, body }) => setCoOwners(app, actor, params.id, body),
    { tried: true },
  );
  serve(server, app, shares.addPartner, ({ actor, body }) => addPartner(app, actor, body), { tried: true });

  serve(server, app, contract.listSets, () => app.reader.say(termsReadings.sets, {}));
  serve(server, app, contract.createSet, ({ actor, body }) => createSet(app, actor, body), { tried: true });
  serve(server, app, contract.editSet, ({ actor, params, body }) => editSet(app, actor, params.id, body), {
    tried: true,
  });
  serve(server, app, contract.pauseSet, ({ actor, params, body }) =>
    pauseSet(app, actor, params.id, body.on),
  );
  serve(server, app, contract.makeStandard, ({ actor, params }) => makeStandard(app, actor, params.id));
  serve(server, app, contract.previewRemoval, ({ params, query }) =>
    app.reader.say(termsReadings.removal, { id: params.id, to: query.to }),
  );
  serve(server, app, contract.removeSet, ({ actor, params, body }) =>
    removeSet(app, actor, params.id, body.to ?? null, body.version),
  );
  serve(server, app, contract.restoreSet, ({ actor, params }) => restoreSet(app, actor, params.id));
  serve(server, app, contract.listMembers, ({ params, query }) => listMembers(app, params.id, query));
  serve(server, app, contract.previewMembers, ({ params, body }) =>
    previewMembers(app, params.id, body.names),
  );
  serve(server, app, contract.addMembers, ({ actor, params, body }) =>
    addMembers(app, actor, params.id, body.names, body.others),
  );
  serve(server, app, contract.dropMembers, ({ actor, params, body }) =>
    dropMembers(app, actor, params.id, body.affiliates),
  );
  serve(server, app, contract.orderTags, ({ actor, body }) => orderTags(app, actor, body.tags));
  serve(server, app, contract.readPlaces, ({ params }) => readPlaces(app, affiliateById(app, params.id).id));
  serve(server, app, contract.previewPlaces, ({ params, body }) => previewPlaces(app, params.id, body));
  serve(server, app, contract.setPlaces, ({ actor, params, body }) => setPlaces(app, actor, params.id, body));

  serve(server, app, book.readRateBook, ({ actor, query }) =>
    app.reader.say(termsReadings.rateBook, { actor, query }),
  );
  serve(server, app, book.askRateBook, ({ actor, query }) => ask(app, actor, query));
  serve(server, app, book.readDraft, ({ actor }) => {
    const draft = openDraft(app, actor);
    return draft ? show(app, draft) : null;
  });
  serve(server, app, book.draftRate, ({ actor, body }) => draftRate(app, actor, body), { tried: true });
  serve(server, app, book.draftSwitch, ({ actor, body }) => draftSwitch(app, actor, body));
  serve(server, app, book.dropChange, ({ actor, params }) => dropChange(app, actor, params.id));
  serve(server, app, book.dateDraft, ({ actor, body }) => dateDraft(app, actor, body.from, body.version));
  serve(server, app, book.saveDraft, ({ actor, body }) => saveDraft(app, actor, body.version));
  serve(server, app, book.discardDraft, ({ actor, body }) => discardDraft(app, actor, body.version));
  serve(server, app, book.startRehearsal, ({ actor, body }) => startRehearsal(app, actor, body));
  serve(server, app, book.readRehearsal, ({ params }) => readRehearsal(app, params.id));
  serve(server, app, book.cancelRehearsal, ({ params }) => cancelRehearsal(app, params.id));
  serve(server, app, book.compareLine, ({ params, query }) =>
    compareLine(app, params.id, params.order, query.position),
  );
  serve(server, app, book.readSample, ({ actor }) => app.reader.say(termsReadings.sample, { actor }));
  serve(server, app, book.readTimeline, ({ query }) => readTimeline(app, query));
  serve(server, app, book.undoTimeline, ({ actor, params }) => undoTimeline(app, actor, params.id));
}
