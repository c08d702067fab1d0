import * as book from '../../../contract/setup/rate-book';
import * as contract from '../../../contract/setup/sets';
import * as shares from '../../../contract/setup/shares';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { affiliateById } from '../../registers/people/record';
import { ask } from './ask';
import { addPartner, readCoOwners, setCoOwners } from './coowners';
import { saveDraft } from './draft-save';
import { openDraft } from './draft-store';
import { draftShown } from './draft-view';
import { dateDraft, discardDraft, draftRate, draftSwitch, dropChange } from './drafts';
import { listMembers } from './member-list';
import { addMembers, dropMembers, previewMembers } from './members';
import { previewPlaces, readPlaces, setPlaces, waitingOf } from './places';
import { termsReadings } from './readings';
import { readReferral, setReferral } from './referrals';
import { cancelRehearsal, compareLine, readRehearsal, startRehearsal } from './rehearsals';
import { removeSet } from './set-removal';
import { restoreSet } from './set-restore';
import { createSet, editSet, makeStandard, pauseSet } from './sets';
import { orderTags } from './tag-order';

/** Rates, who they are for, and what changes of them would do. */
export function termsRoutes(site: Site): void {
  shareRoutes(site);
  setRoutes(site);
  bookRoutes(site);
}

function shareRoutes(site: Site): void {
  const { app } = site;
  serve(site, shares.readReferral, ({ params }) => readReferral(app, params.id));
  serve(site, shares.setReferral, ({ actor, params, body }) => setReferral(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, shares.readCoOwners, ({ params }) => readCoOwners(app, params.id));
  serve(site, shares.setCoOwners, ({ actor, params, body }) => setCoOwners(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, shares.addPartner, ({ actor, body }) => addPartner(app, actor, body), { tried: true });
}

function setRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listSets, () => app.reader.say(termsReadings.sets, {}));
  serve(site, contract.createSet, ({ actor, body }) => createSet(app, actor, body), { tried: true });
  serve(site, contract.editSet, ({ actor, params, body }) => editSet(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, contract.pauseSet, ({ actor, params, body }) => pauseSet(app, actor, params.id, body.on));
  serve(site, contract.makeStandard, ({ actor, params }) => makeStandard(app, actor, params.id));
  serve(site, contract.previewRemoval, ({ params, query }) =>
    app.reader.say(termsReadings.removal, { id: params.id, to: query.to }),
  );
  serve(site, contract.removeSet, ({ actor, params, body }) =>
    removeSet(app, actor, params.id, { to: body.to ?? null, version: body.version }),
  );
  serve(site, contract.restoreSet, ({ actor, params }) => restoreSet(app, actor, params.id));
  serve(site, contract.listMembers, ({ params, query }) => listMembers(app, params.id, query));
  serve(site, contract.previewMembers, ({ params, body }) => previewMembers(app, params.id, body.names));
  serve(site, contract.addMembers, ({ actor, params, body }) =>
    addMembers(app, actor, params.id, { text: body.names, others: body.others }),
  );
  serve(site, contract.dropMembers, ({ actor, params, body }) =>
    dropMembers(app, actor, params.id, body.affiliates),
  );
  serve(site, contract.orderTags, ({ actor, body }) => orderTags(app, actor, body.tags));
  serve(site, contract.readPlaces, ({ params }) => {
    const { id } = affiliateById(app, params.id);
    return { ...readPlaces(app, id), waiting: waitingOf(app, id) };
  });
  serve(site, contract.previewPlaces, ({ params, body }) => previewPlaces(app, params.id, body));
  serve(site, contract.setPlaces, ({ actor, params, body }) => setPlaces(app, actor, params.id, body));
}

function bookRoutes(site: Site): void {
  const { app } = site;
  serve(site, book.readRateBook, ({ actor, query }) =>
    app.reader.say(termsReadings.rateBook, { actor, query }),
  );
  serve(site, book.askRateBook, ({ actor, query }) => ask(app, actor, query));
  serve(site, book.readDraft, ({ actor }) => {
    const draft = openDraft(app, actor);
    return draft ? draftShown(app, draft) : null;
  });
  serve(site, book.draftRate, ({ actor, body }) => draftRate(app, actor, body), { tried: true });
  serve(site, book.draftSwitch, ({ actor, body }) => draftSwitch(app, actor, body));
  serve(site, book.dropChange, ({ actor, params }) => dropChange(app, actor, params.id));
  serve(site, book.dateDraft, ({ actor, body }) => dateDraft(app, actor, body.from, body.version));
  serve(site, book.saveDraft, ({ actor, body }) => saveDraft(app, actor, body.version));
  serve(site, book.discardDraft, ({ actor, body }) => discardDraft(app, actor, body.version));
  serve(site, book.startRehearsal, ({ actor, body }) => startRehearsal(app, actor, body));
  serve(site, book.readRehearsal, ({ params }) => readRehearsal(app, params.id));
  serve(site, book.cancelRehearsal, ({ params }) => cancelRehearsal(app, params.id));
  serve(site, book.compareLine, ({ params, query }) =>
    compareLine(app, params.id, params.order, query.position),
  );
  serve(site, book.readSample, ({ actor }) => app.reader.say(termsReadings.sample, { actor }));
}
