import { useState } from 'react';
import { toast } from 'sonner';
import { changeDecision } from '../../../../../contract/recruit/applications';
import { timingWords } from '../../../../../core/ledger/timing';
import { useAct } from '../../../../kit/act';
import { Refused } from '../../../../kit/api';
import { Note } from '../../../../kit/note';
import { ReasonDialog } from '../../../../kit/reason';
import { Tick } from '../../../../kit/ticks';
import { decisionBody, type ApplicationView, type Decision } from '../decision';

/** What another decision means for somebody who was decided on before. */
function changeInWords(decision: Decision, application: ApplicationView): { title: string; about: string } {
  if (decision === 'decline')
    return {
      title: `Decline ${application.name} after all`,
      about:
        'From now on. What is earned already is still paid; who is approved for nothing any more has ended.',
    };
  const approved = application.state === 'approved';
  const title = approved
    ? `Pay ${application.name} ${timingWords[decision]} instead`
    : `Approve ${application.name} after all, ${timingWords[decision]}`;
  if (decision === 'at-sale') return { title, about: application.atSaleRisk };
  return {
    title,
    about: approved
      ? 'From now on; commissions that exist keep their timing.'
      : 'From now on, with links at once.',
  };
}

/** Changes a decision that was made before, from now on. */
export function ChangeDialog({
  decision,
  application,
  onClose,
}: {
  decision: Decision;
  application: ApplicationView;
  onClose: () => void;
}) {
  const [message, setMessage] = useState(true);
  const [fault, setFault] = useState<string | null>(null);
  const change = useAct(changeDecision, {
    done: (a) => {
      onClose();
      toast(`${a.name} is ${a.state}${a.timing ? `, ${timingWords[a.timing]}` : ''}`);
    },
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It was not changed'),
  });
  const declining = decision === 'decline';
  return (
    <ReasonDialog
      onClose={onClose}
      {...changeInWords(decision, application)}
      act="Change it"
      danger={declining}
      required={declining}
      rows={3}
      busy={change.isPending}
      onAct={(reason) =>
        change.mutate({
          params: { id: application.id },
          body: { ...decisionBody(decision), reason, message },
        })
      }
      fault={fault}
      before={
        decision === 'at-sale' &&
        application.weak && <Note className="mb-2">The record is thin or its refunds are high.</Note>
      }
      example="The site has changed hands"
      after={
        <Tick on={message} onChange={setMessage} className="mt-2">
          Tell them by mail
        </Tick>
      }
    />
  );
}
