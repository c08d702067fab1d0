import { useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { inviteProspects, previewInvite } from '../../../../contract/recruit/prospects';
import { counted } from '../../../../core/text/counted';
import { type Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { TextArea } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { Hint, Note, Said } from '../../../kit/note';
import { usePreview } from '../../../kit/preview';
import { SelectField } from '../../../kit/select';
import { Tick, Ticks } from '../../../kit/ticks';
import { useProductChoices } from '../../shared/products';
import { setChoices, useSets } from '../../shared/sets';
import { Templates } from '../../shared/templates';

const usual =
  'Hello {name},\n\nwe would like to work with you: {programme} pays {rate} of each sale that you send us.\n\nYour site and our tools fit. Accept, and your links are ready at once.';

/** What those who accept come with. */
interface With {
  card: Id<'set'> | '';
  group: Id<'set'> | '';
  product: Id<'product'> | '';
  tags: Id<'set'>[];
}

/** What is sent of it: nothing of what is left open. */
const withOf = ({ card, group, product, tags }: With) => ({
  ...(card ? { card } : {}),
  ...(group ? { group } : {}),
  ...(tags.length ? { tags } : {}),
  ...(product ? { product } : {}),
});

type View = ReplyOf<typeof previewInvite>;
type Line = View['lines'][number];

/** Invites one or many: message, card or group, tags and product, with what it would do to each before it is sent. */
export function InviteDialog({
  ids,
  onClose,
  onDone,
}: {
  ids: string[];
  onClose: () => void;
  onDone: () => void;
}) {
  const [message, setMessage] = useState(usual);
  const [chosen, setChosen] = useState<With>({ card: '', group: '', product: '', tags: [] });
  const [again, setAgain] = useState(false);
  const body = { ids, message, ...withOf(chosen), ...(again ? { again } : {}) };
  const { view, fault, failed } = usePreview(previewInvite, body);
  const send = useAct(inviteProspects, {
    done: (r) => {
      onDone();
      toast(`${counted(r.invited, 'invitation is', 'invitations are')} on the way`);
    },
    failed,
  });
  const will = linesOf(view, ['invited']).length;
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={
        ids.length === 1 && view ? `Invite ${view.lines[0]?.name ?? ids[0]}` : `Invite ${ids.length} partners`
      }
      about="The registry hands it over; the answer comes back here. Whoever accepts begins after hold, with what you choose here."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate({ body });
        }}
      >
        <FormFault>{fault}</FormFault>
        <div className="grid grid-cols-[1fr_1fr] gap-4">
          <Message message={message} setMessage={setMessage} />
          <div className="space-y-2">
            <Chosen chosen={chosen} onChange={setChosen} />
            {view?.sample && <Sample view={view} />}
          </div>
        </div>
        <Outcomes view={view} again={again} setAgain={setAgain} />
        <DialogFoot>
          <span className="mr-auto self-center text-ink3">
            {view ? `${view.left} messages left today to people who have not joined` : ''}
          </span>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" disabled={will === 0 || fault !== null} busy={send.isPending}>
            Invite {will}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

const linesOf = (view: View | null, outcomes: Line['outcome'][]) =>
  view?.lines.filter((l) => outcomes.includes(l.outcome)) ?? [];

/** The first four with what is said of each, and how many more. */
function named(lines: Line[]): string {
  const first = lines.slice(0, 4).map((l) => `${l.name} ${l.said}`);
  return `${first.join('; ')}${lines.length > 4 ? `; and ${lines.length - 4} more` : ''}.`;
}

function Message({ message, setMessage }: { message: string; setMessage: (text: string) => void }) {
  return (
    <div>
      <Labelled>
        Message
        <TextArea
          autoFocus
          rows={8}
          maxLength={4000}
          required
          value={message}
          onText={setMessage}
          className="mt-1"
        />
      </Labelled>
      <Hint className="mt-1 mb-2">Filled in for each: {'{name}, {programme}, {join}, {rate WHEEL-1}'}</Hint>
      <Templates
        use="invite"
        text={{ subject: '', body: message }}
        ready
        onTake={(template) => setMessage(template.body)}
      />
    </div>
  );
}

/** Card, group, product and tags of those who accept. */
function Chosen({ chosen, onChange }: { chosen: With; onChange: (chosen: With) => void }) {
  const sets = useSets();
  const products = useProductChoices('live');
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        <SelectField
          label="Rate card"
          value={chosen.card}
          options={[['', 'as everybody'], ...setChoices(sets, 'card')]}
          onPick={(card) => onChange({ ...chosen, card })}
        />
        <SelectField
          label="Group"
          value={chosen.group}
          options={[['', 'none'], ...setChoices(sets, 'group')]}
          onPick={(group) => onChange({ ...chosen, group })}
        />
      </div>
      <SelectField
        label="For"
        value={chosen.product}
        options={[['', 'the whole programme'], ...products]}
        onPick={(product) => onChange({ ...chosen, product })}
      />
      <Ticks
        legend="Tags, which they never see"
        options={setChoices(sets, 'tag')}
        ticked={chosen.tags}
        onChange={(tags) => onChange({ ...chosen, tags })}
      />
    </>
  );
}

/** How one of them reads it. */
function Sample({ view }: { view: View }) {
  const reader = linesOf(view, ['invited'])[0] ?? view.lines[0];
  return (
    <div className="border-l-[3px] border-rule pl-3">
      <Hint>As {reader?.name} reads it</Hint>
      <p
        className="private max-h-[110px] overflow-auto font-serif text-[13px] whitespace-pre-wrap"
        tabIndex={0}
      >
        {view.sample}
      </p>
    </div>
  );
}

/** Who is asked about, and who cannot be invited. */
function Outcomes({
  view,
  again,
  setAgain,
}: {
  view: View | null;
  again: boolean;
  setAgain: (again: boolean) => void;
}) {
  const asks = linesOf(view, ['recent', 'open']);
  const others = view?.lines.filter((l) => !['invited', 'recent', 'open'].includes(l.outcome)) ?? [];
  return (
    <>
      {asks.length > 0 && (
        <Note as="div" className="mt-3">
          <p>{named(asks)}</p>
          <Tick on={again} onChange={setAgain} className="mt-1">
            Invite {asks.length === 1 ? 'it' : 'them'} again
          </Tick>
        </Note>
      )}
      {others.length > 0 && <Said gap={2}>Not invited: {named(others)}</Said>}
    </>
  );
}
