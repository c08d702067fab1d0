import type { ReplyOf } from '../../../../contract/endpoint';
import type { readApplication } from '../../../../contract/recruit/applications';

export type ApplicationView = ReplyOf<typeof readApplication>;

/** What can be decided: an approval says when it is paid. */
export type Decision = 'after-hold' | 'at-sale' | 'decline';

/** Approval of every later product as well: until a day, '' for no end. */
export type Trust = { until: string; atSale: boolean } | null;

/** What is decided, as the server takes it. */
export const decisionBody = (decision: Decision) =>
  decision === 'decline'
    ? ({ decision: 'decline' } as const)
    : ({ decision: 'approve', timing: decision } as const);
