import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import type { RunOut } from '../../../../contract/settle/payouts';
import type { RunState } from '../../../../core/payouts/lists';
import { useRefresh } from '../../../kit/refresh';

const many = (n: number) => n.toLocaleString('en-GB');

/** What is said when a run has reached a state. */
export const arrivals: Partial<Record<RunState, string>> = {
  draft: 'A draft again: the amounts are cleared balances',
  approved: 'Approved: the amounts are fixed',
  sent: 'Sent: the file is written and the payees are told',
};

/** Says it when a run that was on its way to the next state has arrived, and shows its lists anew. */
export function useArrival(run: RunOut): void {
  const refresh = useRefresh();
  const wasOnItsWay = useRef(false);
  const isOnItsWay = run.done !== null;
  useEffect(() => {
    if (wasOnItsWay.current && !isOnItsWay) {
      void refresh();
      if (run.notApproved) toast.error(`Not approved. ${run.notApproved}`);
      else toast(arrivals[run.state] ?? '');
    }
    wasOnItsWay.current = isOnItsWay;
  }, [refresh, isOnItsWay, run.state, run.notApproved]);
}

const doings: Partial<Record<RunState, string>> = {
  approving: 'payees taken in',
  reopening: 'payees given back',
  sending: 'payees told',
};

/** How far a run is on its way to the next state. */
export function OnItsWay({ run }: { run: RunOut }) {
  const done = run.done ?? 0;
  return (
    <span className="inline-flex items-center gap-3">
      <progress
        aria-label="Progress"
        className="h-2 w-[320px]"
        value={run.payees ? done / run.payees : 0}
        max={1}
      />
      <span role="status" className="text-ink2">
        {many(done)} of {many(run.payees)} {doings[run.state]}. It goes on if you leave this page.
      </span>
    </span>
  );
}
