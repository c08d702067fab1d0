import { useState } from 'react';
import { toast } from 'sonner';
import {
  askApplicant,
  decideApplications,
  reopenApplications,
} from '../../../../contract/recruit/applications';
import { answerPractice } from '../../../../contract/recruit/practices';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { useKeys } from '../../../kit/keys';
import { Split } from '../../../kit/layout';
import { searchKey } from '../../../kit/list-keys';
import { Failed, Skeleton } from '../../../kit/place';
import { useMay } from '../../roles';
import { AnswerDialog, isOpen, type Answering } from '../../shared/practices-of';
import { AskDialog } from './acts/ask';
import { DecisionBar } from './acts/bar';
import { BlockDialog } from './acts/block';
import { ChangeDialog } from './acts/change';
import { DecisionDialog } from './acts/decide';
import { decisionBody, type ApplicationView, type Decision, type Trust } from './decision';
import { EvidenceMargin } from './evidence';
import { Queue } from './list';
import { useQueue, type QueueState } from './queue';
import { ApplicationSheet } from './sheet';

/** What is asked about before it is done: a decision on those who are chosen, another decision on one, a block, a question. */
type Asked =
  | { act: 'decide' | 'change'; decision: Decision }
  | { act: 'block' }
  | { act: 'question' }
  | ({ act: 'practice' } & Answering);

/** The queue: list, sheet and margin. Moving through the list never loses it. */
export default function Applications() {
  const queue = useQueue();
  const { current, shownId, list, chosen, decided } = queue;
  const may = useMay();
  const [asked, ask] = useState<Asked | null>(null);
  const { run, busy } = useDeciding(queue, () => ask(null));
  const begin = (decision: Decision) => {
    if (!may(decideApplications)) return;
    if (decided && queue.selected.size === 0) ask({ act: 'change', decision });
    // many at once, a decline, or money before the hold are asked about; one clear approval is not
    else if (decision === 'after-hold' && chosen.length === 1) run({ decision });
    else if (chosen.length) ask({ act: 'decide', decision });
  };
  const question = () => {
    if (chosen.length === 1 && may(askApplicant)) ask({ act: 'question' });
  };
  const block = () => {
    if (current.data && may(decideApplications)) ask({ act: 'block' });
  };
  const practice = (allowed: boolean) => {
    const open = current.data?.practices.find(isOpen);
    if (open && may(answerPractice)) ask({ act: 'practice', practice: open, allowed });
  };
  const keys = useKeys([
    ...queue.keys,
    { key: 'a', what: 'approve, after hold', act: () => begin('after-hold') },
    { key: 's', what: 'approve, at sale', act: () => begin('at-sale') },
    { key: 'd', what: 'decline', act: () => begin('decline') },
    { key: 'q', what: 'ask something before deciding', act: question },
    { key: 'b', what: 'block', act: block },
    { key: 'l', what: 'let in for the practice that is asked about', act: () => practice(true) },
    { key: 'L', what: 'not let in for it', act: () => practice(false) },
    searchKey,
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Split>
        <Queue queue={queue} />
        <Shown queue={queue} />
      </Split>
      <DecisionBar
        may={may(decideApplications)}
        enabled={(chosen.length > 0 || decided) && !busy}
        onBlock={block}
        begin={begin}
        onAsk={question}
        selected={queue.selected.size}
        position={list.rows.findIndex((r) => r.id === shownId) + 1}
        total={queue.counts[queue.state] ?? list.rows.length}
        state={queue.state}
      />
      {asked?.act === 'decide' && (
        <DecisionDialog
          decision={asked.decision}
          ids={chosen}
          current={current.data ?? null}
          rows={list.rows}
          busy={busy}
          onClose={() => ask(null)}
          onDecide={(reason, message, trust) => run({ decision: asked.decision, reason, message, trust })}
        />
      )}
      {asked && current.data && (
        <AskedOfOne asked={asked} application={current.data} onClose={() => ask(null)} />
      )}
      {keys}
    </>
  );
}

/** The application that is shown, with its evidence. */
function Shown({ queue: { current, shownId, list } }: { queue: QueueState }) {
  if (current.error) return <Failed fault={current.error} retry={() => void current.refetch()} />;
  if (current.data)
    return (
      <>
        <ApplicationSheet application={current.data} />
        <EvidenceMargin application={current.data} />
      </>
    );
  if (shownId)
    return (
      <div className="flex-1">
        <Skeleton />
      </div>
    );
  return list.loading ? null : <div className="flex-1 bg-sheet" />;
}

function AskedOfOne({
  asked,
  application,
  onClose,
}: {
  asked: Asked;
  application: ApplicationView;
  onClose: () => void;
}) {
  if (asked.act === 'change')
    return <ChangeDialog decision={asked.decision} application={application} onClose={onClose} />;
  if (asked.act === 'block') return <BlockDialog application={application} onClose={onClose} />;
  if (asked.act === 'practice') {
    const { affiliate, name, id } = application;
    return <AnswerDialog {...asked} whose={{ affiliate, name, application: id }} onClose={onClose} />;
  }
  if (asked.act === 'question') return <AskDialog application={application} onClose={onClose} />;
  return null;
}

interface Deciding {
  decision: Decision;
  reason?: string;
  message?: boolean;
  trust?: Trust;
}

/** Decides those who are chosen and goes on to the next; what was decided can be taken back. */
function useDeciding(queue: QueueState, onDone: () => void) {
  const reopen = useAct(reopenApplications, {
    done: (r) =>
      toast(
        r.reopened.length
          ? `${r.reopened.length} waiting again`
          : (r.passed[0]?.why ?? 'Nothing was taken back'),
      ),
  });
  const decide = useAct(decideApplications, {
    done: (r) => {
      queue.selected.clear();
      onDone();
      if (r.decided.length)
        toast(`${counted(r.decided.length, 'application')} decided`, {
          action: { label: 'Undo', onClick: () => reopen.mutate({ body: { ids: r.decided } }) },
        });
      for (const p of r.passed) toast.error(`Passed over: it ${p.why}`);
    },
  });
  const run = ({ decision, reason = '', message = true, trust = null }: Deciding) => {
    if (!queue.chosen.length || decide.isPending) return;
    queue.leave(queue.chosen);
    decide.mutate({
      body: {
        ids: queue.chosen,
        ...decisionBody(decision),
        reason,
        message,
        ...(trust ? { trust } : {}),
      },
    });
  };
  return { run, busy: decide.isPending };
}
