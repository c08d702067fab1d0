import { useId, useState } from 'react';
import { toast } from 'sonner';
import { moveAffiliate, readAffiliate } from '../../../../contract/recruit/affiliates';
import { changeDecision } from '../../../../contract/recruit/applications';
import { useAct } from '../../../kit/act';
import { call, Refused } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { Note } from '../../../kit/note';
import type { Decision } from './decide';
import type { ApplicationView } from './sheet';

/** Changes a decision that was made before, from now on. */
export function ChangeDialog({
  decision,
  of,
  onClose,
}: {
  decision: Decision;
  of: ApplicationView;
  onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [message, setMessage] = useState(true);
  const [fault, setFault] = useState<string | null>(null);
  const field = useId();
  const change = useAct(changeDecision, {
    done: (a) => {
      onClose();
      toast(
        `${a.name} is ${a.state}${a.timing ? `, ${a.timing === 'at-sale' ? 'at sale' : 'after hold'}` : ''}`,
      );
    },
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It was not changed'),
  });
  const declining = decision === 'decline';
  const same = of.state === 'approved' && !declining;
  const about = declining
    ? 'From now on. What is earned already is still paid; who is approved for nothing any more has ended.'
    : decision === 'at-sale'
      ? of.atSaleRisk
      : same
        ? 'From now on; commissions that exist keep their timing.'
        : 'From now on, with links at once.';
  return (
    <Dialog
      open
      onClose={onClose}
      title={
        declining
          ? `Decline ${of.name} after all`
          : same
            ? `Pay ${of.name} ${decision === 'at-sale' ? 'at sale' : 'after hold'} instead`
            : `Approve ${of.name} after all, ${decision === 'at-sale' ? 'at sale' : 'after hold'}`
      }
      about={about}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate({
            params: { id: of.id },
            body: {
              decision: declining ? 'decline' : 'approve',
              ...(declining ? {} : { timing: decision }),
              reason,
              message,
            },
          });
        }}
      >
        <FormFault>{fault}</FormFault>
        {decision === 'at-sale' && of.weak && (
          <Note className="mb-2">The record is thin or its refunds are high.</Note>
        )}
        <Labelled htmlFor={field} className="mb-1">
          Reason{declining ? '' : ', if you wish'}
        </Labelled>
        <textarea
          id={field}
          autoFocus
          rows={3}
          maxLength={500}
          required={declining}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          placeholder="The site has changed hands"
          className="w-full rounded-sm border border-rule bg-sheet px-2 py-1"
        />
        <label className="mt-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-copper"
            checked={message}
            onChange={(e) => setMessage(e.target.checked)}
          />{' '}
          Tell them by mail
        </label>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look={declining ? 'danger' : 'main'} busy={change.isPending}>
            Change it
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

/** Blocks the person behind an application; what it still waits for is declined without a message. */
export function BlockDialog({ of, onClose }: { of: ApplicationView; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const field = useId();
  const block = useAct(moveAffiliate, {
    done: (a) => {
      onClose();
      toast(`${a.name} is blocked; it can be undone on the affiliate’s page`);
    },
  });
  const go = async () => {
    const { version } = await call(readAffiliate, { params: { id: of.affiliate } });
    block.mutate({ params: { id: of.affiliate }, body: { state: 'blocked', reason, version } });
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Block ${of.name}`}
      about="Links earn nothing, the portal is closed, nothing is paid, and what is still open is declined without a message."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void go();
        }}
      >
        <Labelled htmlFor={field} className="mb-1">
          Reason
        </Labelled>
        <textarea
          id={field}
          autoFocus
          rows={2}
          required
          maxLength={500}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          placeholder="The same person under another name"
          className="w-full rounded-sm border border-rule bg-sheet px-2 py-1"
        />
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="danger" busy={block.isPending}>
            Block
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
