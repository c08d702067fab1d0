import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { listOwnRequests, type OwnRequest } from '../../../contract/equip/requests';
import { answerOwnQuestion, type PortalHome } from '../../../contract/portal/home';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { kindWords } from '../../../core/material/lists';
import { useAct } from '../../kit/act';
import { asking } from '../../kit/asking';
import { Dialog, SubmitFoot } from '../../kit/dialog';
import { FormFault } from '../../kit/form';
import { TextArea } from '../../kit/inputs';
import { faultInWords } from '../../kit/keeper';
import { Labelled } from '../../kit/labelled';
import { useProgramme } from '../../kit/programme';
import { Day, Small, Strong } from '../../kit/text';
import { useLooking, usePortalBase } from '../base';

/** What waits for the affiliate, and what it waits for itself. */
export function ToDo({ home }: { home: PortalHome }) {
  const base = usePortalBase();
  const answered = useAnswered();
  const { policy, detailsComplete, questions, waiting } = home;
  const lines = [
    policy && policy.at === null && (
      <Line
        key="policy"
        act={
          <Goes to={`${base}/policy`} label={`Read and accept version ${policy.number}`}>
            read
          </Goes>
        }
      >
        <Strong>Accept the terms</Strong>, version {policy.number}
        <Small below>Our terms have changed and wait for you</Small>
      </Line>
    ),
    !detailsComplete && (
      <Line
        key="details"
        act={
          <Goes to={`${base}/details`} label="Enter your payout details">
            enter
          </Goes>
        }
      >
        <Strong>Your payout details</Strong>
        <Small below>You cannot be paid yet</Small>
      </Line>
    ),
    ...questions.map((question) => <QuestionLine key={question.id} question={question} />),
    ...answered.map((request) => <AnsweredLine key={request.id} request={request} />),
    waiting.length > 0 && (
      <Line key="waiting" quiet>
        Being read: your application for {waiting.join(', ')}
      </Line>
    ),
  ].filter(Boolean);
  return (
    <section aria-labelledby="to-do">
      <h2 id="to-do">For you to do</h2>
      {lines.length === 0 ? (
        <p className="mt-1 text-ink2">Nothing now.</p>
      ) : (
        <ul className="mt-1">{lines}</ul>
      )}
    </section>
  );
}

const Goes = ({ to, label, children }: { to: string; label: string; children: string }) => (
  <Link className="link" to={to} aria-label={label}>
    {children}
  </Link>
);

function Line({
  act,
  quiet = false,
  children,
}: {
  act?: ReactNode;
  /** nothing to be done about it */
  quiet?: boolean;
  children: ReactNode;
}) {
  return (
    <li className="flex items-baseline gap-2 border-b border-rule2 py-2">
      <i
        aria-hidden
        className={`size-[9px] shrink-0 rounded-full border ${quiet ? 'border-slate' : 'border-ochre'}`}
      />
      <span className="min-w-0 flex-1">{children}</span>
      {act}
    </li>
  );
}

/** Answers to what was asked for are told for so long. */
const shownDays = 14;

function useAnswered(): OwnRequest[] {
  const { now } = useProgramme();
  const rows = useQuery(asking(listOwnRequests)).data?.rows ?? [];
  const since = now - shownDays * millisecondsInDay;
  return rows.filter((r) => r.state === 'answered' && (r.answeredAt ?? 0) > since).slice(0, 3);
}

/** Something asked for is there. */
function AnsweredLine({ request: { kind, size, creative, answer, answeredAt } }: { request: OwnRequest }) {
  const base = usePortalBase();
  return (
    <Line
      quiet
      act={
        creative && (
          <Goes to={`${base}/creatives?id=${creative.id}`} label={`See ${creative.name}`}>
            see
          </Goes>
        )
      }
    >
      <Strong>You asked for a {kindWords[kind][0]}</Strong> {size}
      <Small below>
        {creative ? creative.name : answer}, <Day at={answeredAt} />
      </Small>
    </Line>
  );
}

function QuestionLine({ question }: { question: PortalHome['questions'][number] }) {
  const [answering, setAnswering] = useState(false);
  const looking = useLooking();
  return (
    <Line
      act={
        !looking && (
          <button type="button" className="link" onClick={() => setAnswering(true)}>
            answer
          </button>
        )
      }
    >
      <Strong>A question</Strong> from {question.by} on your application for {question.product}
      <Small below>“{question.question}”</Small>
      {answering && <AnswerDialog question={question} onClose={() => setAnswering(false)} />}
    </Line>
  );
}

function AnswerDialog({
  question,
  onClose,
}: {
  question: PortalHome['questions'][number];
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const act = useAct(answerOwnQuestion, {
    done: () => {
      toast('Your answer is with us');
      onClose();
    },
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  return (
    <Dialog open onClose={onClose} title="A question to you" about={question.question}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          setFault(null);
          act.mutate({ params: { id: question.id }, body: { answer: text } });
        }}
      >
        <FormFault>{fault}</FormFault>
        <Labelled>
          Your answer
          <TextArea rows={4} required value={text} onText={setText} className="mt-1" />
        </Labelled>
        <SubmitFoot onLeave={onClose} leave="Later" busy={act.isPending}>
          Send it
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
