import type { RosterColumn } from '../../../core/recruiting/roster';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listHistory } from './history';
import { listAffiliates, rosterPiece } from './roster';
import { listSegments } from './segments';
import { readAffiliate } from './service';

interface Piece {
  filter: Parameters<typeof rosterPiece>[1];
  columns: readonly RosterColumn[];
}

/** The roster, read beside the serving thread. */
export const rosterReadings = readingsOf({
  roster: listAffiliates,
  rosterPiece: (app: App, { filter, columns }: Piece) => rosterPiece(app, filter, columns),
  segments: (app: App, _: object) => listSegments(app),
  affiliate: (app: App, { id }: { id: Id<'affiliate'> }) => readAffiliate(app, id),
  history: (app: App, { id, query }: { id: string; query: Parameters<typeof listHistory>[2] }) =>
    listHistory(app, id, query),
});
