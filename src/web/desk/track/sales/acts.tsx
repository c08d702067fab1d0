import { useState } from 'react';
import { toast } from 'sonner';
import { correctCommission, declineCommission } from '../../../../contract/settle/commissions';
import { formatMoney } from '../../../../core/money/amount';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { TextLine } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { ReasonDialog } from '../../../kit/reason';
import { useMay } from '../../roles';

/** What can be declined or corrected: the commission, or a share of the same sale. */
export interface Target {
  id: Id<'commission'>;
  what: string;
  whose: string;
  state: string;
}

export interface Asked {
  act: 'decline' | 'correct';
  target: Target;
}

/** What can be done with a commission or a share, in the state it is in. */
export function TargetActs({ target, ask }: { target: Target; ask: (asked: Asked) => void }) {
  const may = useMay();
  if (!may(declineCommission)) return null;
  const open = target.state === 'held' || target.state === 'cleared';
  return (
    <>
      {open && (
        <Button look="danger" onClick={() => ask({ act: 'decline', target: target })}>
          Decline this {target.what}
        </Button>
      )}
      {target.state !== 'declined' && target.state !== 'in-run' && (
        <Button onClick={() => ask({ act: 'correct', target: target })}>Correct it</Button>
      )}
    </>
  );
}

interface Props {
  target: Target;
  /** of the sale */
  reference: string;
  onClose: () => void;
}

/** Corrects by a difference, up or down. */
export function CorrectDialog({ target, reference, currency, onClose }: Props & { currency: string }) {
  const [difference, setDifference] = useState('');
  const correct = useAct(correctCommission, {
    done: (r) => {
      onClose();
      toast(`Corrected: ${formatMoney(r.left)} is left`);
    },
  });
  return (
    <ReasonDialog
      onClose={onClose}
      title={`Correct the ${target.what} of ${reference}`}
      about={`By a difference, up or down. What has been paid is adjusted through the balance. ${target.whose} reads the reason.`}
      act="Correct"
      required
      least={3}
      busy={correct.isPending}
      onAct={(reason) =>
        correct.mutate({
          params: { id: target.id },
          body: { difference: difference.replace('−', '-'), reason },
        })
      }
      focusBefore
      before={
        <Labelled className="mb-3">
          Difference in {currency}
          <TextLine
            autoFocus
            required
            value={difference}
            onText={setDifference}
            placeholder="-2.50"
            className="mt-1"
          />
        </Labelled>
      }
      example="The agreed rate was 14 %"
    />
  );
}

/** Declines, with a reason that is read by whom it would have been paid to. */
export function DeclineDialog({
  target,
  reference,
  withReferral,
  onClose,
}: Props & { withReferral: boolean }) {
  const decline = useAct(declineCommission, {
    done: () => {
      onClose();
      toast('Declined; the affiliate reads the reason in the portal');
    },
  });
  return (
    <ReasonDialog
      onClose={onClose}
      title={`Decline the ${target.what} of ${reference}`}
      about={`What is held or cleared is taken back${withReferral ? ', the referral share with it' : ''}. ${target.whose} reads the reason.`}
      act="Decline"
      danger
      required
      least={3}
      rows={3}
      busy={decline.isPending}
      onAct={(reason) => decline.mutate({ params: { id: target.id }, body: { reason } })}
      example="Own purchase, excluded by the policy"
    />
  );
}
