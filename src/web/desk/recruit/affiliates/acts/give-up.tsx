import { toast } from 'sonner';
import { giveUpBalance } from '../../../../../contract/recruit/affiliates';
import { formatMoney } from '../../../../../core/money/amount';
import { useAct } from '../../../../kit/act';
import { ReasonDialog } from '../../../../kit/reason';
import { openBalance, type View } from '../record/view';

/** Writes off what an affiliate owes after refunds. */
export function GiveUp({ affiliate, onClose }: { affiliate: View; onClose: () => void }) {
  const give = useAct(giveUpBalance, {
    done: () => {
      onClose();
      toast('The negative balance is written off');
    },
  });
  const open = openBalance(affiliate);
  return (
    <ReasonDialog
      onClose={onClose}
      title={`Give up ${formatMoney({ ...open, amount: Math.abs(open.amount) })}`}
      about={`What ${affiliate.name} owes after refunds is written off and not netted any more. This cannot be taken back.`}
      act="Give it up"
      danger
      required
      least={3}
      busy={give.isPending}
      onAct={(reason) => give.mutate({ params: { id: affiliate.id }, body: { reason } })}
      example="Left the programme; too small to ask for"
    />
  );
}
