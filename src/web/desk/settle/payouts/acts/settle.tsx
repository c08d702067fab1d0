import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { readRun, settleByHand, type RunOut } from '../../../../../contract/settle/payouts';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { asking } from '../../../../kit/asking';
import { Confirm } from '../../../../kit/confirm';
import { TextLine } from '../../../../kit/inputs';

/** Settles a payment that was seen at the bank, with the bank’s own reference. */
export function SettleDialog({
  run,
  payment,
  onClose,
}: {
  run: RunOut;
  payment: { id: Id<'payment'>; name: string };
  onClose: () => void;
}) {
  const [reference, setReference] = useState('');
  const queries = useQueryClient();
  const settle = useAct(settleByHand, {
    done: (r) => {
      queries.setQueryData(asking(readRun, { params: { id: run.id } }).queryKey, r);
      onClose();
      toast('Settled by hand');
    },
  });
  return (
    <Confirm
      open
      onClose={onClose}
      title={`Settle the payment to ${payment.name}`}
      about="For a payment that you see carried out at the bank, with the bank’s own reference."
      act="Settle"
      busy={settle.isPending}
      onAct={() => settle.mutate({ params: { id: payment.id }, body: { reference } })}
    >
      <TextLine
        aria-label="Bank reference"
        autoFocus
        required
        minLength={3}
        maxLength={100}
        value={reference}
        onText={setReference}
        placeholder="BK-2027-0312-7"
      />
    </Confirm>
  );
}
