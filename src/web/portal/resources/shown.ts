import type { ReplyOf } from '../../../contract/endpoint';
import type { readResources } from '../../../contract/recruit/offers';

/** What the resources are put together from. */
export type Resources = ReplyOf<typeof readResources>;
