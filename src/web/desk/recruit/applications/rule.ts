import { type ReplyOf } from '../../../../contract/endpoint';
import type { listRules } from '../../../../contract/recruit/screening';

export type Rule = Rules['rules'][number];

export type Rules = ReplyOf<typeof listRules>;
