import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { publishPolicy, readPublishing } from '../../../../contract/setup/policy';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Apart } from '../../../kit/layout';
import { Note, Said } from '../../../kit/note';
import { Failed, Skeleton } from '../../../kit/place';
import { AnswerChange } from '../../../kit/policy';
import { Day, Sums } from '../../../kit/text';
import { Tick } from '../../../kit/ticks';
import { endWords, type Whole } from './margin';
import { type Version } from './versions';

type Publishing = ReplyOf<typeof readPublishing>;

/** Asks before a version is published: who is told, from when it holds, whom its practices are about, what is empty. */
export function PublishDialog({
  p,
  last,
  onClose,
}: {
  p: Whole;
  last: Version | undefined;
  onClose: () => void;
}) {
  const view = useQuery(asking(readPublishing, { params: { id: p.id } }));
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Publish version ${p.number}`}
      about={
        last
          ? 'It holds after the notice that the version in force promises; everybody is told now, with the changes marked. What you have typed is part of it.'
          : 'The first version holds at once. Whoever applies from now on accepts it by applying. What you have typed is part of it.'
      }
    >
      {view.isPending && <Skeleton lines={4} />}
      {view.error && <Failed fault={view.error} retry={() => void view.refetch()} />}
      {view.data && <Publishing p={p} view={view.data} onClose={onClose} />}
    </Dialog>
  );
}

function Publishing({ p, view, onClose }: { p: Whole; view: Publishing; onClose: () => void }) {
  const [staysEmpty, setStaysEmpty] = useState(false);
  const publish = useAct(publishPolicy, {
    done: (done) => {
      onClose();
      toast(`Version ${done.number} is published; ${counted(done.outstanding, 'affiliate')} told`);
    },
  });
  const empty = view.gaps.map((gap) => gap.key);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        publish.mutate({ params: { id: p.id }, body: { version: p.version, empty } });
      }}
    >
      <Sums
        rows={[
          { label: 'Told now, each with a link to accept', figure: counted(view.told, 'affiliate') },
          { label: 'Holds from', figure: <Day at={view.holdsOn} /> },
          { label: 'Practices and parts that change', figure: view.changes },
          { label: 'At the end of the notice, who has not accepted is', figure: endWords[p.content.atEnd] },
        ]}
      />
      <Affected practices={view.practices} />
      {view.gaps.length > 0 && (
        <Note as="div" role="note" className="mt-3">
          <p>
            Empty: {view.gaps.map((gap) => gap.name).join('; ')}. What is empty is left out of what is read.
          </p>
          <Tick on={staysEmpty} onChange={setStaysEmpty} className="mt-1">
            It is to stay empty
          </Tick>
        </Note>
      )}
      <DialogFoot>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          type="submit"
          look="main"
          busy={publish.isPending}
          disabled={view.gaps.length > 0 && !staysEmpty}
        >
          Publish and tell {counted(view.told, 'affiliate')}
        </Button>
      </DialogFoot>
    </form>
  );
}

/** The practices that change, each with those it is about. */
function Affected({ practices }: { practices: Publishing['practices'] }) {
  if (practices.length === 0) return null;
  return (
    <section className="mt-4" aria-label="Whom it is about">
      <h3 className="font-semibold">Whom it is about</h3>
      <ul>
        {practices.map((c) => (
          <li key={c.key} className="border-b border-dotted border-rule py-1">
            <Apart className="gap-3">
              <span className="font-semibold">{c.name}</span>
              <AnswerChange was={c.was} is={c.is} />
            </Apart>
            <Said>{aboutInWords(c)}</Said>
            <Said faint gap={1}>
              {c.sample.map((a, i) => (
                <span key={a.id} className="private">
                  {i > 0 && ', '}
                  <Link className="link" to={`/affiliates/${a.id}`}>
                    {a.name}
                  </Link>
                </span>
              ))}
              {c.sample.length > 0 && (
                <>
                  {' · '}
                  <Link className="link" to={`/affiliates?practice=${c.key}`}>
                    all of them
                  </Link>
                </>
              )}
            </Said>
          </li>
        ))}
      </ul>
    </section>
  );
}

function aboutInWords({ users, permitted, waiting }: Publishing['practices'][number]): string {
  const parts = [
    users ? `${counted(users, 'affiliate')} said that they use it` : '',
    permitted
      ? `${permitted} ${permitted === 1 ? 'was let in for it and stays' : 'were let in for it and stay'} so`
      : '',
    waiting ? `${counted(waiting, 'open application speaks', 'open applications speak')} of it` : '',
  ].filter(Boolean);
  return parts.length ? `${parts.join('; ')}.` : 'Nobody with us has said that they use it.';
}
