import { expect, it } from 'vitest';
import { decideApplications } from '../../../../contract/recruit/applications';
import { faultsOf } from '../../../../server/ground/http/validate';
import { decisionBody } from './decision';

const rest = { ids: ['apl_1m8ee27r300005x25678'], reason: '', message: false };

it.each(['after-hold', 'at-sale', 'decline'] as const)('“%s” is sent as the call takes it', (decision) => {
  expect(faultsOf(decideApplications.body, { ...rest, ...decisionBody(decision) })).toEqual([]);
});
it('an approval says when it is paid, a decline does not', () => {
  expect(decisionBody('at-sale')).toEqual({ decision: 'approve', timing: 'at-sale' });
  expect(decisionBody('after-hold')).toEqual({ decision: 'approve', timing: 'after-hold' });
  expect(decisionBody('decline')).toEqual({ decision: 'decline' });
});
