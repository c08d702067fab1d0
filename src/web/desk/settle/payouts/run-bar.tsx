import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { deliverRun, readRun, type RunOut } from '../../../../contract/settle/payouts';
import { formatMoney } from '../../../../core/money/amount';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Bar } from '../../../kit/place';
import type { Step } from './acts/step';
import { StatusButtons } from './list';
import { OnItsWay } from './on-its-way';

interface Props {
  run: RunOut;
  ask: (step: Step) => void;
}

/** A draft is approved by somebody who may, with at least one payee, and by a second person where the sum asks for one. */
export const canApprove = (run: RunOut) =>
  run.state === 'draft' && run.payees > 0 && run.needsSecond === null;

/** The next step of a run, and the way back as long as there is one. */
export function RunBar({ run, ask }: Props) {
  return (
    <Bar>
      {run.state === 'draft' && <OfDraft run={run} ask={ask} />}
      {run.done !== null && <OnItsWay run={run} />}
      {run.state === 'approving' && <Button onClick={() => ask('reopen')}>Back to draft</Button>}
      {run.state === 'approved' && (
        <>
          <Button look="main" keyName="S" onClick={() => ask('send')}>
            Send {counted(run.payees, 'payment')}, {formatMoney(run.total)}
          </Button>
          <Button onClick={() => ask('reopen')}>Back to draft</Button>
        </>
      )}
      {run.state === 'sent' && (
        <>
          {run.bank && <ToTheBank run={run} />}
          <StatusButtons />
        </>
      )}
      {run.state === 'settled' && <span className="text-ink2">Every payment of this run is final.</span>}
    </Bar>
  );
}

function OfDraft({ run, ask }: Props) {
  return (
    <>
      <Button look="main" keyName="A" disabled={!canApprove(run)} onClick={() => ask('approve')}>
        Approve {counted(run.payees, 'payment')}, {formatMoney(run.total)}
      </Button>
      <Button onClick={() => ask('discard')}>Discard</Button>
      {run.needsSecond && <span className="text-ochre">{run.needsSecond}</span>}
      {run.notApproved && <span className="text-madder">Not approved. {run.notApproved}</span>}
    </>
  );
}

function ToTheBank({ run }: { run: RunOut }) {
  const queries = useQueryClient();
  const deliver = useAct(deliverRun, {
    done: (r) => {
      queries.setQueryData(asking(readRun, { params: { id: run.id } }).queryKey, r);
      toast('The bank has the file');
    },
  });
  return (
    <Button
      look={run.deliveredAt ? 'quiet' : 'main'}
      busy={deliver.isPending}
      onClick={() => deliver.mutate({ params: { id: run.id }, body: { version: run.version } })}
    >
      {run.deliveredAt ? 'Hand over again' : 'Hand to the bank'}
    </Button>
  );
}
