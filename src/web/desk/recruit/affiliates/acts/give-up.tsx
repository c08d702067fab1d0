import { useState } from 'react';
import { toast } from 'sonner';
import { giveUpBalance } from '../../../../../contract/recruit/affiliates';
import { formatMoney } from '../../../../../core/money/amount';
import { useAct } from '../../../../kit/act';
import { Confirm } from '../../../../kit/confirm';
import { TextArea } from '../../../../kit/inputs';
import { openBalance, type View } from '../record/view';

/** Writes off what an affiliate owes after refunds. */
export function GiveUp({ affiliate, onClose }: { affiliate: View; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const give = useAct(giveUpBalance, {
    done: () => {
      onClose();
      toast('The negative balance is written off');
    },
  });
  const open = openBalance(affiliate);
  return (
    <Confirm
      open
      onClose={onClose}
      title={`Give up ${formatMoney({ ...open, amount: Math.abs(open.amount) })}`}
      about={`What ${affiliate.name} owes after refunds is written off and not netted any more. This cannot be taken back.`}
      act="Give it up"
      danger
      busy={give.isPending}
      onAct={() => give.mutate({ params: { id: affiliate.id }, body: { reason } })}
    >
      <TextArea
        aria-label="Reason"
        autoFocus
        rows={2}
        minLength={3}
        maxLength={500}
        required
        value={reason}
        onText={setReason}
        placeholder="Left the programme; too small to ask for"
      />
    </Confirm>
  );
}
