import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { findProspects } from './search';
import { type ProspectFilter } from './searched';

interface Search {
  filter: ProspectFilter;
  after: string | undefined;
  limit: number;
  /** changes with every copy of the registry */
  stamp: number;
}

/** Prospects, read beside the serving thread. */
export const prospectReadings = readingsOf({
  prospects: (app: App, { filter, after, limit, stamp }: Search) =>
    findProspects({ sqlite: app.sqlite, stamp }, filter, after, limit),
});
