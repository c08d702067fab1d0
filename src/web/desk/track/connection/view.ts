import { type ReplyOf } from '../../../../contract/endpoint';
import type { readConnection } from '../../../../contract/track/connection';

export type ConnectionView = ReplyOf<typeof readConnection>;

export type KeyView = ConnectionView['keys'][number];
