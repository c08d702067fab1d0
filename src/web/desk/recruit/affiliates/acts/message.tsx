import { useState } from 'react';
import { toast } from 'sonner';
import { type ReplyOf } from '../../../../../contract/endpoint';
import { previewMessage, sendMessage } from '../../../../../contract/recruit/letters';
import { type Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { Button } from '../../../../kit/button';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { dropDraft, keepDraft, readDraft } from '../../../../kit/draft';
import { FormFault } from '../../../../kit/form';
import { TextArea, TextLine } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import { Note } from '../../../../kit/note';
import { usePreview } from '../../../../kit/preview';
import { Select } from '../../../../kit/select';
import { Templates } from '../../../shared/templates';
import { type Whom } from './bulk';

interface Text {
  subject: string;
  body: string;
}

type Kind = 'letter' | 'notice';
type View = ReplyOf<typeof previewMessage>;

/** Writes to one, many or a segment: templates, words filled in for each, and how it reads for a real one of them. */
export function MessageDialog({ whom, onClose }: { whom: Whom; onClose: () => void }) {
  const [text, setText] = useState<Text>(() => readDraft<Text>('message') ?? { subject: '', body: '' });
  const [kind, setKind] = useState<Kind>('letter');
  const [forWhom, setForWhom] = useState<Id<'affiliate'> | null>(null);
  const long = text.body.trim().length >= 2;
  const ready = text.subject.trim() !== '' && long;
  // shown while it is typed: what is not there yet is a dash
  const body = { ...whom, subject: text.subject || '—', body: long ? text.body : '——', kind };
  const { view, fault, failed } = usePreview(previewMessage, {
    ...body,
    ...(forWhom ? { for: forWhom } : {}),
  });
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
  const count = view?.count ?? 0;
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Write to ${view ? whomInWords(view) : '…'}`}
      about="Filled in for each: {name}, {handle}, {portal}, {join}, {rate WHEEL-1}, {price WHEEL-1}. What you type is kept until it is sent."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate({ body });
        }}
      >
        <FormFault>{fault}</FormFault>
        <Templates use="message" text={text} ready={ready} onTake={edit} removable />
        <div className="mt-2 grid grid-cols-2 gap-4">
          <Typed text={text} edit={edit} kind={kind} setKind={setKind} />
          <Read text={text} view={view} forWhom={forWhom} onWhom={setForWhom} />
        </div>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            type="submit"
            look="main"
            disabled={!ready || count === 0 || fault !== null}
            busy={send.isPending}
          >
            Send to {count.toLocaleString('en-GB')}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

const whomInWords = (view: View) =>
  view.count === 1 && view.sample ? view.sample.name : `${view.count.toLocaleString('en-GB')} affiliates`;

const kinds: readonly (readonly [Kind, string])[] = [
  ['letter', 'a letter: not to those who want none'],
  ['notice', 'a notice on terms or payments'],
];

/** Subject, message, and whether it is a letter or a notice. */
function Typed({
  text,
  edit,
  kind,
  setKind,
}: {
  text: Text;
  edit: (text: Text) => void;
  kind: Kind;
  setKind: (kind: Kind) => void;
}) {
  return (
    <div>
      <Labelled>
        Subject
        <TextLine
          autoFocus
          value={text.subject}
          maxLength={200}
          onText={(subject) => edit({ ...text, subject })}
          placeholder="Wheels are back, {name}"
          className="mt-1"
        />
      </Labelled>
      <Labelled className="mt-2">
        Message
        <TextArea
          rows={10}
          value={text.body}
          maxLength={10_000}
          onText={(body) => edit({ ...text, body })}
          placeholder={
            'Hello {name},\n\nforty wheels leave the workshop on Monday. You earn {rate WHEEL-1} on each.'
          }
          className="mt-1"
        />
      </Labelled>
      <fieldset className="mt-2">
        <legend className="sr-only">Kind</legend>
        {kinds.map(([value, words]) => (
          <label key={value} className="mr-4">
            <input type="radio" name="kind" checked={kind === value} onChange={() => setKind(value)} />{' '}
            {words}
          </label>
        ))}
      </fieldset>
    </div>
  );
}

/** How it reads for one of them, and who is left out. */
function Read({
  text,
  view,
  forWhom,
  onWhom,
}: {
  text: Text;
  view: View | null;
  forWhom: Id<'affiliate'> | null;
  onWhom: (id: Id<'affiliate'>) => void;
}) {
  if (!view) return <div />;
  return (
    <div>
      {view.sample && (
        <Sample text={text} view={view} sample={view.sample} forWhom={forWhom} onWhom={onWhom} />
      )}
      {view.leftOut.length > 0 && (
        <Note className="mt-3">
          Left out: {view.leftOut.map((l) => `${l.count} who ${l.why}`).join(', ')}.
        </Note>
      )}
    </div>
  );
}

function Sample({
  text,
  view,
  sample,
  forWhom,
  onWhom,
}: {
  text: Text;
  view: View;
  sample: NonNullable<View['sample']>;
  forWhom: Id<'affiliate'> | null;
  onWhom: (id: Id<'affiliate'>) => void;
}) {
  return (
    <>
      <span className="flex items-baseline gap-2 text-ink3">
        As it reads for{' '}
        <Select
          label="As it reads for"
          value={forWhom ?? sample.id}
          options={view.some.map((s) => [s.id, s.name] as const)}
          onPick={onWhom}
          className="private min-w-0 flex-1"
        />
      </span>
      <div
        className="private mt-2 max-h-[300px] overflow-auto border-l-[3px] border-rule pl-3"
        tabIndex={0}
        role="region"
        aria-label="How it reads"
      >
        <p className="text-ink3">To {sample.to}</p>
        <p className="font-semibold">
          {text.subject ? sample.subject : <span className="text-ink3">no subject yet</span>}
        </p>
        <p dir="auto" className="mt-1 font-serif text-[13.5px] break-words whitespace-pre-wrap">
          {text.body ? sample.body : ''}
        </p>
      </div>
    </>
  );
}
