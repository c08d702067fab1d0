import { type ReplyOf } from '../../../../../contract/endpoint';
import type { readAffiliate } from '../../../../../contract/recruit/affiliates';
import { sumOf, type Money } from '../../../../../core/money/amount';

export type View = ReplyOf<typeof readAffiliate>;

/** What an affiliate has earned and not been paid: below zero where refunds came after a payment. */
export const openBalance = ({ balances }: View): Money => sumOf([balances.held, balances.cleared]);
