import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { BodyOf, ReplyOf } from '../../../../contract/endpoint';
import {
  listTemplates,
  previewMessage,
  removeTemplate,
  saveTemplate,
  sendMessage,
} from '../../../../contract/recruit/letters';
import { useAct } from '../../../kit/act';
import { call, Refused } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { dropDraft, keepDraft, readDraft } from '../../../kit/draft';
import { FormFault } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { Note } from '../../../kit/note';
import type { Whom } from './bulk';

const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
interface Text {
  subject: string;
  body: string;
}

/** Writes to one, many or a segment: templates, words filled in for each, and how it reads for a real one of them. */
export function MessageDialog({ whom, onClose }: { whom: Whom; onClose: () => void }) {
  const [text, setText] = useState<Text>(() => readDraft<Text>('message') ?? { subject: '', body: '' });
  const [kind, setKind] = useState<'letter' | 'notice'>('letter');
  const [forWhom, setForWhom] = useState('');
  const [name, setName] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const [view, setView] = useState<ReplyOf<typeof previewMessage> | null>(null);
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => call(listTemplates) });
  const failed = (f: unknown) =>
    setFault(f instanceof Refused ? f.problem.detail : 'It was not sent; what you typed is kept.');
  const { mutate: look } = useAct(previewMessage, {
    done: (v) => {
      setView(v);
      setFault(null);
    },
    failed,
  });
  const keep = useAct(saveTemplate, {
    done: (t) => {
      setName('');
      toast(`Kept as “${t.name}”`);
    },
  });
  const drop = useAct(removeTemplate, { done: () => toast('The template is removed') });
  const send = useAct(sendMessage, {
    done: (r) => {
      dropDraft('message');
      onClose();
      toast(`On the way to ${r.queued}${r.leftOut ? `; ${r.leftOut} left out` : ''}`);
    },
    failed,
  });
  const edit = (next: Text) => {
    setText(next);
    keepDraft('message', next);
  };
  const ready = text.subject.trim() !== '' && text.body.trim().length >= 2;
  const body = JSON.stringify({
    ...whom,
    ...text,
    subject: text.subject || '—',
    body: text.body.trim().length >= 2 ? text.body : '——',
    kind,
  });
  useEffect(() => {
    const timer = setTimeout(
      () =>
        look({
          body: { ...(JSON.parse(body) as BodyOf<typeof sendMessage>), ...(forWhom ? { for: forWhom } : {}) },
        }),
      250,
    );
    return () => clearTimeout(timer);
  }, [body, forWhom, look]);
  const kept = (templates.data?.rows ?? []).filter((t) => t.use === 'message');
  const [picked, setPicked] = useState('');
  const taken = kept.find((t) => t.name.toLowerCase() === name.trim().toLowerCase());
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Write to ${view ? (view.count === 1 && view.sample ? view.sample.name : `${view.count.toLocaleString('en-GB')} affiliates`) : '…'}`}
      about="Filled in for each: {name}, {handle}, {portal}, {join}, {rate WHEEL-1}, {price WHEEL-1}. What you type is kept until it is sent."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate({ body: JSON.parse(body) as BodyOf<typeof sendMessage> });
        }}
      >
        <FormFault>{fault}</FormFault>
        <p className="flex gap-2">
          <select
            aria-label="Template"
            value={picked}
            onChange={(e) => {
              setPicked(e.target.value);
              const t = kept.find((x) => x.id === e.target.value);
              if (t) edit({ subject: t.subject, body: t.body });
            }}
            className="min-w-0 flex-1 rounded-sm border border-rule bg-sheet px-2 py-[5px]"
          >
            <option value="">{kept.length ? 'Take a template…' : 'No template kept yet'}</option>
            {kept.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
          {picked && (
            <Button
              onClick={() => {
                drop.mutate({ params: { id: picked } });
                setPicked('');
              }}
            >
              Remove it
            </Button>
          )}
          <input
            aria-label="Keep as template"
            placeholder="Keep as…"
            maxLength={60}
            value={name}
            onChange={(e) => setName(e.target.value)}
            className="w-[140px] rounded-sm border border-rule px-2"
          />
          <Button
            disabled={!name.trim() || !ready}
            busy={keep.isPending}
            onClick={() =>
              keep.mutate({
                body: { use: 'message', name, ...text, ...(taken ? { replaces: taken.version } : {}) },
              })
            }
          >
            {taken ? 'Replace' : 'Keep'}
          </Button>
        </p>
        <div className="mt-2 grid grid-cols-2 gap-4">
          <div>
            <Labelled>
              Subject
              <input
                autoFocus
                value={text.subject}
                maxLength={200}
                onChange={(e) => edit({ ...text, subject: e.target.value })}
                placeholder="Wheels are back, {name}"
                className={field}
              />
            </Labelled>
            <Labelled className="mt-2">
              Message
              <textarea
                rows={10}
                value={text.body}
                maxLength={10_000}
                onChange={(e) => edit({ ...text, body: e.target.value })}
                placeholder={
                  'Hello {name},\n\nforty wheels leave the workshop on Monday. You earn {rate WHEEL-1} on each.'
                }
                className={field}
              />
            </Labelled>
            <fieldset className="mt-2">
              <legend className="sr-only">Kind</legend>
              <label className="mr-4">
                <input
                  type="radio"
                  name="kind"
                  checked={kind === 'letter'}
                  onChange={() => setKind('letter')}
                />{' '}
                a letter: not to those who want none
              </label>
              <label>
                <input
                  type="radio"
                  name="kind"
                  checked={kind === 'notice'}
                  onChange={() => setKind('notice')}
                />{' '}
                a notice on terms or payments
              </label>
            </fieldset>
          </div>
          <div>
            {view?.sample && (
              <>
                <label className="flex items-baseline gap-2 text-ink3">
                  As it reads for{' '}
                  <select
                    aria-label="As it reads for"
                    value={forWhom || view.sample.id}
                    onChange={(e) => setForWhom(e.target.value)}
                    className="private min-w-0 flex-1 rounded-sm border border-rule bg-sheet px-1"
                  >
                    {view.some.map((s) => (
                      <option key={s.id} value={s.id}>
                        {s.name}
                      </option>
                    ))}
                  </select>
                </label>
                <div
                  className="private mt-2 max-h-[300px] overflow-auto border-l-[3px] border-rule pl-3"
                  tabIndex={0}
                  role="region"
                  aria-label="How it reads"
                >
                  <p className="text-ink3">To {view.sample.to}</p>
                  <p className="font-semibold">
                    {text.subject ? view.sample.subject : <span className="text-ink3">no subject yet</span>}
                  </p>
                  <p dir="auto" className="mt-1 font-serif text-[13.5px] break-words whitespace-pre-wrap">
                    {text.body ? view.sample.body : ''}
                  </p>
                </div>
              </>
            )}
            {view && view.leftOut.length > 0 && (
              <Note className="mt-3">
                Left out: {view.leftOut.map((l) => `${l.count} who ${l.why}`).join(', ')}.
              </Note>
            )}
          </div>
        </div>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            type="submit"
            look="main"
            disabled={!ready || !view || view.count === 0 || fault !== null}
            busy={send.isPending}
          >
            Send to {(view?.count ?? 0).toLocaleString('en-GB')}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
