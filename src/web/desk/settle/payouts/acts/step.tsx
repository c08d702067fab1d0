import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import {
  approveRun,
  discardRun,
  readRun,
  reopenRun,
  sendRun,
  type RunOut,
} from '../../../../../contract/settle/payouts';
import { formatMoney } from '../../../../../core/money/amount';
import { counted } from '../../../../../core/text/counted';
import { useAct } from '../../../../kit/act';
import { asking } from '../../../../kit/asking';
import { Confirm } from '../../../../kit/confirm';
import { arrivals } from '../on-its-way';

/** The steps of a run that are asked about. */
export type Step = 'approve' | 'send' | 'discard' | 'reopen';

/** What a step is called and what follows from it. */
function stepInWords(step: Step, run: RunOut): { title: string; about: string } {
  const what = `${counted(run.payees, 'payment')}, ${formatMoney(run.total)}`;
  switch (step) {
    case 'approve':
      return {
        title: `Approve ${what}`,
        about:
          'The amounts are fixed and leave the cleared balances. It can still be taken back before it is sent.',
      };
    case 'send':
      return {
        title: `Send ${what}`,
        about:
          'The payment file is written, once, and each payee is told with the date promised. This cannot be taken back.',
      };
    case 'discard':
      return {
        title: `Discard run ${run.number}`,
        about: 'Nothing has moved; the balances stay cleared.',
      };
    case 'reopen':
      return {
        title: `Take run ${run.number} back to draft`,
        about: 'The amounts return to the cleared balances.',
      };
  }
}

/** Takes a run a step further, or back. */
function useStep(run: RunOut, onClose: () => void) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  // what is through at once is said at once, the rest when it has arrived
  const done = (r: RunOut) => {
    queries.setQueryData(asking(readRun, { params: { id: run.id } }).queryKey, r);
    onClose();
    if (r.done === null) toast(arrivals[r.state] ?? '');
  };
  const approve = useAct(approveRun, { done });
  const send = useAct(sendRun, { done });
  const reopen = useAct(reopenRun, { done });
  const discard = useAct(discardRun, {
    done: () => {
      onClose();
      toast('Discarded');
      void navigate('/payouts');
    },
  });
  const params = { id: run.id };
  const { version } = run;
  return {
    busy: approve.isPending || send.isPending || discard.isPending || reopen.isPending,
    take: (step: Step) => {
      if (step === 'approve') approve.mutate({ params, body: { version, total: run.total.amount } });
      else ({ send, discard, reopen })[step].mutate({ params, body: { version } });
    },
  };
}

/** Asks before a run is taken a step further. */
export function StepDialog({ run, step, onClose }: { run: RunOut; step: Step; onClose: () => void }) {
  const { take, busy } = useStep(run, onClose);
  const words = stepInWords(step, run);
  return (
    <Confirm
      open
      onClose={onClose}
      title={words.title}
      about={words.about}
      act={words.title}
      busy={busy}
      onAct={() => take(step)}
    />
  );
}
