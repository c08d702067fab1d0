import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { listCreatives } from '../../../../contract/equip/creatives';
import {
  answerRequest,
  listRequests,
  reopenRequest,
  type RequestOut,
} from '../../../../contract/equip/requests';
import { kindWords, oneOfKind, requestStates, type RequestState } from '../../../../core/material/lists';
import { isId, type Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { useAddress } from '../../../kit/address';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { Dialog, SubmitFoot } from '../../../kit/dialog';
import { EndMark } from '../../../kit/end-mark';
import { FormFault } from '../../../kit/form';
import { TextArea } from '../../../kit/inputs';
import { faultInWords } from '../../../kit/keeper';
import { useKeys } from '../../../kit/keys';
import { Labelled } from '../../../kit/labelled';
import { languageName } from '../../../kit/languages';
import { Column, scrolling } from '../../../kit/layout';
import { cursorKeys } from '../../../kit/list-keys';
import { useCursor, useList } from '../../../kit/lists';
import { Pick } from '../../../kit/pick';
import { Empty, Failed, Heading, Skeleton } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Moment, Name, Small } from '../../../kit/text';
import { useMay } from '../../roles';

const stateWords: Record<RequestState, string> = {
  open: 'What waits for an answer',
  answered: 'What was answered',
  withdrawn: 'What was withdrawn',
};

/** What affiliates ask for, to be answered with a creative or with words. */
export default function Requests() {
  const address = useAddress();
  const state = requestStates.find((s) => s === address.get('state')) ?? 'open';
  const list = useList(listRequests, { state }, 50);
  const cursor = useCursor(list.rows, (r) => r.id);
  const [answering, setAnswering] = useState<RequestOut | null>(null);
  const navigate = useNavigate();
  const may = useMay();
  // one that was made for a request comes back with it
  const wanted = address.id('answer', 'request');
  const asked = answering ?? list.rows.find((r) => r.id === wanted) ?? null;
  const id = address.id('creative', 'creative');
  const made = id ? { id, name: address.get('name') } : null;
  const answer = (row: RequestOut) => {
    if (may(answerRequest) && row.state === 'open') setAnswering(row);
  };
  const keys = useKeys([
    ...cursorKeys(cursor, 'request', answer),
    { key: 'Escape', what: 'back to the book', act: () => void navigate('/creatives') },
  ]);
  return (
    <Column aria-label="Asked for">
      <Heading
        title="Asked for"
        acts={
          <Link className="link-level" to="/creatives">
            Back to the book
          </Link>
        }
      >
        <Choice
          label="State"
          value={state}
          options={requestStates.map((s) => [s, stateWords[s]] as const)}
          onChange={(v) => address.set('state', v === 'open' ? '' : v)}
        />
        , {state === 'open' ? 'oldest' : 'newest'} first
      </Heading>
      <div className={`${scrolling} px-5 pb-6`} tabIndex={0} aria-label="Requests">
        <RequestList list={list} state={state} at={cursor.at} onAnswer={may(answerRequest) ? answer : null} />
      </div>
      {asked && (
        <AnswerDialog
          request={asked}
          made={made}
          onClose={() => {
            setAnswering(null);
            if (wanted) address.put({ answer: '', creative: '', name: '' }, { replace: true });
          }}
        />
      )}
      {keys}
    </Column>
  );
}

interface ListProps {
  list: ReturnType<typeof useList<typeof listRequests>>;
  state: RequestState;
  at: string | null;
  onAnswer: ((row: RequestOut) => void) | null;
}

function RequestList({ list, state, at, onAnswer }: ListProps) {
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  if (list.rows.length === 0)
    return list.loading ? (
      <Skeleton />
    ) : (
      <Empty title={state === 'open' ? 'Nothing waits' : 'Nothing here'}>
        What affiliates miss, they ask for in their portal: a size, a subject, a language.
      </Empty>
    );
  return (
    <>
      <ul>
        {list.rows.map((row) => (
          <RequestLine
            key={row.id}
            row={row}
            at={row.id === at}
            onAnswer={onAnswer ? () => onAnswer(row) : null}
          />
        ))}
      </ul>
      {list.onEnd && <EndMark onSeen={list.onEnd} />}
    </>
  );
}

/** What is asked for in a few words. */
function askedFor({ kind, size, subject, language, product }: RequestOut): string {
  return [
    `${oneOfKind(kind)}${size ? ` ${size}` : ''}`,
    product ? `for ${product.name}` : '',
    subject ? `on ${subject}` : '',
    language ? `in ${languageName(language)}` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

function RequestLine({ row, at, onAnswer }: { row: RequestOut; at: boolean; onAnswer: (() => void) | null }) {
  return (
    <li
      aria-current={at || undefined}
      className={`flex items-start gap-4 border-b border-rule2 py-3 ${at ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
    >
      <div className="min-w-0 flex-1 pl-3">
        <p>
          <Name>{row.affiliate.name}</Name> asks for {askedFor(row)}{' '}
          <Small>
            <Moment at={row.at} />
          </Small>
        </p>
        <p dir="auto" className="max-w-[72ch] break-words">
          “{row.words}”
        </p>
        {row.state === 'answered' && <Answered row={row} />}
      </div>
      <State
        is={row.state === 'open' ? 'waiting' : row.state === 'answered' ? 'approved' : 'withdrawn'}
        word={row.state}
      />
      {row.state === 'open' && onAnswer && (
        <span className="flex gap-2">
          <Link
            className="link-level"
            to={`/creatives/new/${row.kind}?request=${row.id}&product=${row.product?.id ?? ''}&size=${row.size.replace('×', 'x')}`}
          >
            make it
          </Link>
          <Button onClick={onAnswer}>Answer</Button>
        </span>
      )}
      {row.state === 'answered' && onAnswer && <Reopen row={row} />}
    </li>
  );
}

function Answered({ row }: { row: RequestOut }) {
  return (
    <p className="text-ink2">
      {row.answeredBy}, <Moment at={row.answeredAt} />:{' '}
      {row.creative && (
        <Link className="link" to={`/creatives/${row.creative.id}`}>
          {row.creative.name}
        </Link>
      )}{' '}
      {row.answer}
    </p>
  );
}

function Reopen({ row }: { row: RequestOut }) {
  const act = useAct(reopenRequest, { done: () => toast('It waits again; what was told was told') });
  return (
    <button type="button" className="link" onClick={() => act.mutate({ params: { id: row.id } })}>
      take back
    </button>
  );
}

async function findCreatives(q: string) {
  const { rows } = await call(listCreatives, { query: { ...(q ? { q } : {}), state: 'on', limit: 12 } });
  return rows.map((r) => ({ id: r.id, name: r.name, sub: kindWords[r.kind][0] }));
}

interface Chosen {
  id: Id<'creative'>;
  name: string;
}

/** Answers with a creative, with words, or with both. */
function AnswerDialog({
  request,
  made,
  onClose,
}: {
  request: RequestOut;
  made: Chosen | null;
  onClose: () => void;
}) {
  const [creative, setCreative] = useState(made);
  const [answer, setAnswer] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const act = useAct(answerRequest, {
    done: () => {
      toast(`${request.affiliate.name} is told`);
      onClose();
    },
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Answer ${request.affiliate.name}`}
      about={`Asked for: ${askedFor(request)}. “${request.words}”`}
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate({
            params: { id: request.id },
            body: { creative: creative?.id ?? null, answer, version: request.version },
          });
        }}
      >
        <FormFault>{fault}</FormFault>
        <p>
          With{' '}
          <Pick
            label="Creative"
            find={findCreatives}
            onPick={({ id, name }) => isId(id, 'creative') && setCreative({ id, name })}
          >
            {creative?.name ?? 'no creative'}
          </Pick>
          {creative && (
            <>
              {' '}
              <button type="button" className="link" onClick={() => setCreative(null)}>
                without
              </button>
            </>
          )}
        </p>
        <Labelled>
          Words, if you wish
          <TextArea
            rows={3}
            autoFocus
            value={answer}
            onText={setAnswer}
            placeholder="Here it is; tell us how it does."
            className="mt-1"
          />
        </Labelled>
        <SubmitFoot onLeave={onClose} busy={act.isPending} disabled={!creative && !answer.trim()}>
          Answer
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
