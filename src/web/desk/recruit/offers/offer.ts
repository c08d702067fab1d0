import { type ReplyOf } from '../../../../contract/endpoint';
import type { listOffers } from '../../../../contract/recruit/offers';

export type Offer = ReplyOf<typeof listOffers>['rows'][number];
