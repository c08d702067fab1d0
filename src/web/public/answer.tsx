import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { answerQuestion, readQuestion } from '../../contract/recruit/applications';
import { Refused } from '../kit/api';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { FormFault } from '../kit/form';
import { Labelled } from '../kit/labelled';
import { Letter, Page } from '../kit/layout';
import { Said } from '../kit/note';
import { Failed, Skeleton } from '../kit/place';
import { useSend } from '../kit/send';

/** Where somebody who applied answers a question: reached by the link of a message, without signing in. */
export default function AnswerPage() {
  const { token = '' } = useParams();
  const queries = useQueryClient();
  const page = useQuery({
    ...asking(readQuestion, { params: { token } }),
    retry: false,
  });
  const sendAnswer = useSend(answerQuestion);
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (page.isPending) return <Skeleton />;
  if (page.error)
    return (
      <Letter>
        <Failed fault={page.error} />
      </Letter>
    );
  const { programme, contact, name, question, answer, open } = page.data;
  const send = async () => {
    setBusy(true);
    setFault(null);
    try {
      queries.setQueryData(
        asking(readQuestion, { params: { token } }).queryKey,
        await sendAnswer({ params: { token }, body: { answer: text } }),
      );
    } catch (thrown) {
      setFault(
        thrown instanceof Refused ? thrown.problem.detail : 'It was not sent; what you typed is kept.',
      );
    } finally {
      setBusy(false);
    }
  };
  return (
    <Page>
      <div className="mx-auto w-[min(620px,100%)] px-5 py-8">
        <p className="text-ink2">
          {programme} asks {name}
        </p>
        <h1 className="mt-1 font-serif text-[20px]! leading-snug break-words whitespace-pre-wrap">
          {question}
        </h1>
        {answer !== null ? (
          <div role="status" className="mt-5 border-l-[3px] border-verdigris bg-verdigris-wash px-4 py-3">
            <p className="font-semibold">Your answer is here</p>
            <p dir="auto" className="mt-1 break-words whitespace-pre-wrap">
              {answer}
            </p>
          </div>
        ) : open ? (
          <form
            className="mt-5"
            onSubmit={(e) => {
              e.preventDefault();
              void send();
            }}
          >
            <FormFault>{fault}</FormFault>
            <Labelled>
              Your answer
              <textarea
                autoFocus
                required
                rows={6}
                maxLength={5000}
                value={text}
                onChange={(e) => setText(e.target.value)}
                className="mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-1 font-normal text-ink"
              />
            </Labelled>
            <Button type="submit" look="main" className="mt-3" busy={busy}>
              Send
            </Button>
          </form>
        ) : (
          <p className="mt-5 text-ink2">
            The application has been decided; there is no need to answer any more.
          </p>
        )}
        <Said gap={8} faint>
          Questions:{' '}
          <a className="link" href={`mailto:${contact}`}>
            {contact}
          </a>
        </Said>
      </div>
    </Page>
  );
}
