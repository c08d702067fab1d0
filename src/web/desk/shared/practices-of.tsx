import { useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readAffiliate } from '../../../contract/recruit/affiliates';
import { answerPractice, endPermission } from '../../../contract/recruit/practices';
import type { Id } from '../../../core/text/id';
import { useAct } from '../../kit/act';
import { Refused } from '../../kit/api';
import { Button } from '../../kit/button';
import { DottedItem } from '../../kit/dotted';
import { Apart, Offered } from '../../kit/layout';
import { Said } from '../../kit/note';
import { ReasonDialog } from '../../kit/reason';
import { State } from '../../kit/state';
import { Day, Small } from '../../kit/text';
import { useMay } from '../roles';

export type Practice = ReplyOf<typeof readAffiliate>['practices'][number];

interface Whose {
  affiliate: Id<'affiliate'>;
  name: string;
  application?: Id<'application'>;
}

/** What is asked about before it is answered. */
export interface Answering {
  practice: Practice;
  allowed: boolean;
}

/** Whether somebody waits for an answer about a practice. */
export const isOpen = (p: Practice): boolean => p.answer === 'ask-first' && p.permission === null;

/** Practices that somebody means to use, what the policy answers, and what this one was answered. */
export function PracticesOf({
  whose,
  practices,
  asked,
}: {
  whose: Whose;
  practices: Practice[];
  /** whether the form asked to tick them */
  asked: boolean;
}) {
  const [answering, setAnswering] = useState<Answering | null>(null);
  if (practices.length === 0)
    return <Said>{asked ? 'None of the practices in the policy.' : 'Nothing is known of it.'}</Said>;
  return (
    <>
      <ul>
        {practices.map((p) => (
          <DottedItem key={p.key} aria-label={p.name}>
            <Apart className="gap-3">
              <span className="font-semibold">
                {p.name} <Small>{howKnown(p, asked)}</Small>
              </span>
              {p.answer === null ? (
                <span className="text-ink3">not in the policy any more</span>
              ) : (
                <State is={p.answer} />
              )}
            </Apart>
            {p.says && (
              <p dir="auto" className="font-serif text-ink2">
                {p.says}
              </p>
            )}
            <Permission
              practice={p}
              whose={whose}
              onAnswer={(allowed) => setAnswering({ practice: p, allowed })}
            />
          </DottedItem>
        ))}
      </ul>
      {answering && <AnswerDialog whose={whose} {...answering} onClose={() => setAnswering(null)} />}
    </>
  );
}

/** From where it is known: ticked, in its words, or both. */
function howKnown(p: Practice, asked: boolean): string {
  if (p.ticked) return p.said ? 'ticked, and in its words' : 'ticked';
  if (p.said) return asked ? 'in its words, not ticked' : 'in its words';
  return '';
}

/** What was answered, with a way to answer otherwise; or the question that waits. */
function Permission({
  practice: p,
  whose,
  onAnswer,
}: {
  practice: Practice;
  whose: Whose;
  onAnswer: (allowed: boolean) => void;
}) {
  const may = useMay();
  const given = p.permission;
  if (!given && p.answer === 'welcome') return null;
  return (
    <div>
      {given && (
        <p>
          <State
            is={given.allowed ? 'approved' : 'declined'}
            word={given.allowed ? 'let in' : 'not let in'}
          />{' '}
          <Small>
            by {given.by}, <Day at={given.at} />
          </Small>
          {given.words && <span dir="auto">: {given.words}</span>}
        </p>
      )}
      {may(answerPractice) && <Answers given={given} whose={whose} name={p.name} onAnswer={onAnswer} />}
    </div>
  );
}

/** Ways to answer, or to answer otherwise. */
function Answers({
  given,
  whose,
  name,
  onAnswer,
}: {
  given: Practice['permission'];
  whose: Whose;
  name: string;
  onAnswer: (allowed: boolean) => void;
}) {
  const end = useAct(endPermission, {
    done: (r) =>
      toast(r.restored ? 'Taken back: the answer before stands again' : 'Taken back: the question is open'),
  });
  return (
    <Offered>
      {(!given || !given.allowed) && (
        <Button look="bare" onClick={() => onAnswer(true)} aria-label={`Let ${whose.name} in for ${name}`}>
          Let in for it
        </Button>
      )}
      {(!given || given.allowed) && (
        <Button
          look="bare"
          onClick={() => onAnswer(false)}
          aria-label={`Do not let ${whose.name} in for ${name}`}
        >
          Not this one
        </Button>
      )}
      {given && (
        <Button look="bare" busy={end.isPending} onClick={() => end.mutate({ params: { id: given.id } })}>
          Take the answer back
        </Button>
      )}
    </Offered>
  );
}

/** Answers one about a practice, with words if there are any. */
export function AnswerDialog({
  whose,
  practice,
  allowed,
  onClose,
}: Answering & { whose: Whose; onClose: () => void }) {
  const [fault, setFault] = useState<string | null>(null);
  const back = useAct(endPermission, { done: () => toast('Taken back') });
  const answer = useAct(answerPractice, {
    done: (given) => {
      onClose();
      toast(allowed ? `Let in for “${given.name}”` : `Not let in for “${given.name}”`, {
        action: { label: 'Undo', onClick: () => back.mutate({ params: { id: given.id } }) },
      });
    },
    failed: (f) =>
      setFault(f instanceof Refused ? f.problem.detail : 'It was not saved; what you typed is kept.'),
  });
  const { affiliate, application, name } = whose;
  return (
    <ReasonDialog
      onClose={onClose}
      title={allowed ? `Let ${name} in for this?` : `Not let ${name} in for this?`}
      about={
        <>
          “{practice.name}”. The answer is kept at the affiliate, and told: at once to who is with us, else
          with the decision.
        </>
      }
      act={allowed ? 'Let in' : 'Do not let in'}
      label="Words"
      most={500}
      rows={3}
      fault={fault}
      busy={answer.isPending}
      onAct={(words) =>
        answer.mutate({
          params: { id: affiliate },
          body: {
            practice: practice.key,
            allowed,
            words,
            replaces: practice.permission?.id ?? null,
            ...(application ? { application } : {}),
          },
        })
      }
      example={
        allowed ? 'For the members’ page, not in the open shop.' : 'We do not pay for sales that come so.'
      }
    />
  );
}
