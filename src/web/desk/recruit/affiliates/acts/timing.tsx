import { toast } from 'sonner';
import { setTiming } from '../../../../../contract/recruit/affiliates';
import { timingWords } from '../../../../../core/ledger/timing';
import { useAct } from '../../../../kit/act';
import { Confirm } from '../../../../kit/confirm';
import { Sums } from '../../../../kit/text';
import type { View } from '../record/view';

/** The other of the two payment timings. */
export const otherTiming = (timing: View['timing']): View['timing'] =>
  timing === 'at-sale' ? 'after-hold' : 'at-sale';

/** Changes when an affiliate is paid, for everything it is approved for. */
export function TimingDialog({ affiliate, onClose }: { affiliate: View; onClose: () => void }) {
  const change = useAct(setTiming, {
    done: (a) => {
      onClose();
      toast(`Paid ${timingWords[a.timing]} from now on`);
    },
  });
  const other = otherTiming(affiliate.timing);
  return (
    <Confirm
      open
      onClose={onClose}
      title="Change the payment timing"
      about="From now on, for everything this affiliate is approved for. Commissions that exist keep theirs."
      act={<>Pay {timingWords[other]}</>}
      busy={change.isPending}
      onAct={() =>
        change.mutate({ params: { id: affiliate.id }, body: { timing: other, version: affiliate.version } })
      }
    >
      <Sums
        rows={[
          { label: 'Before', figure: timingWords[affiliate.timing] },
          { label: 'After', figure: timingWords[other], weight: 'sum' },
        ]}
      />
    </Confirm>
  );
}
