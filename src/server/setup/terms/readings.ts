import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { readRateBook } from './ratebook';
import { readSample } from './rehearsals';
import { previewRemoval } from './set-removal';
import { listSets } from './sets';

/** The rate book, read beside the serving thread. */
export const termsReadings = readingsOf({
  sets: (app: App, _: object) => listSets(app),
  removal: (app: App, { id, to }: { id: Id<'set'>; to: Id<'set'> | undefined }) =>
    previewRemoval(app, id, to),
  rateBook: (app: App, { actor, query }: { actor: Actor; query: Parameters<typeof readRateBook>[2] }) =>
    readRateBook(app, actor, query),
  sample: (app: App, { actor }: { actor: Actor }) => readSample(app, actor),
});
