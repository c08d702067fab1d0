import type { Id } from '../../core/text/id';
import type { App } from '../ground/context';
import { readingsOf } from '../ground/reading/readings';
import { readHome } from './service';

/** The portal, read beside the serving thread. */
export const portalReadings = readingsOf({
  portalHome: (app: App, { affiliate }: { affiliate: Id<'affiliate'> }) => readHome(app, affiliate),
});
