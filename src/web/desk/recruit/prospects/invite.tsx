import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { listTemplates, saveTemplate } from '../../../../contract/recruit/letters';
import { inviteProspects, previewInvite } from '../../../../contract/recruit/prospects';
import { listProducts } from '../../../../contract/setup/products';
import { listSets } from '../../../../contract/setup/sets';
import { useAct } from '../../../kit/act';
import { call, Refused } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { Hint, Note } from '../../../kit/note';

const usual =
  'Hello {name},\n\nwe would like to work with you: {programme} pays {rate} of each sale that you send us.\n\nYour site and our tools fit. Accept, and your links are ready at once.';
const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

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
  const sets = useQuery({ queryKey: ['sets'], queryFn: () => call(listSets) });
  const products = useQuery({
    queryKey: ['products', 'live'],
    queryFn: () => call(listProducts, { query: { limit: 500, state: 'live' } }),
  });
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => call(listTemplates) });
  const [message, setMessage] = useState(usual);
  const [card, setCard] = useState('');
  const [group, setGroup] = useState('');
  const [tags, setTags] = useState<string[]>([]);
  const [product, setProduct] = useState('');
  const [again, setAgain] = useState(false);
  const [keep, setKeep] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const [view, setView] = useState<ReplyOf<typeof previewInvite> | null>(null);
  const failed = (f: unknown) =>
    setFault(f instanceof Refused ? f.problem.detail : 'It was not sent; what you typed is kept.');
  const { mutate: look } = useAct(previewInvite, {
    done: (v) => {
      setView(v);
      setFault(null);
    },
    failed,
  });
  const save = useAct(saveTemplate, {
    done: (t) => {
      setKeep('');
      toast(`Kept as “${t.name}”`);
    },
  });
  const send = useAct(inviteProspects, {
    done: (r) => {
      onDone();
      toast(`${r.invited} ${r.invited === 1 ? 'invitation is' : 'invitations are'} on the way`);
    },
    failed,
  });
  const body = JSON.stringify({
    ids,
    message,
    ...(card ? { card } : {}),
    ...(group ? { group } : {}),
    ...(tags.length ? { tags } : {}),
    ...(product ? { product } : {}),
    ...(again ? { again } : {}),
  });
  useEffect(() => {
    const timer = setTimeout(
      () => look({ body: JSON.parse(body) as { ids: string[]; message: string } }),
      250,
    );
    return () => clearTimeout(timer);
  }, [body, look]);
  const of = (kind: string) => (sets.data?.rows ?? []).filter((s) => s.of === kind);
  const will = view?.lines.filter((l) => l.outcome === 'invited').length ?? 0;
  const asks = view?.lines.filter((l) => l.outcome === 'recent' || l.outcome === 'open') ?? [];
  const others =
    view?.lines.filter((l) => l.outcome !== 'invited' && l.outcome !== 'recent' && l.outcome !== 'open') ??
    [];
  const kept = (templates.data?.rows ?? []).filter((t) => t.use === 'invite');
  const taken = kept.find((t) => t.name.toLowerCase() === keep.trim().toLowerCase());
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
          send.mutate({ body: JSON.parse(body) as { ids: string[]; message: string } });
        }}
      >
        <FormFault>{fault}</FormFault>
        <div className="grid grid-cols-[1fr_1fr] gap-4">
          <div>
            <Labelled>
              Message
              <textarea
                autoFocus
                rows={8}
                maxLength={4000}
                required
                value={message}
                onChange={(e) => setMessage(e.target.value)}
                className={field}
              />
            </Labelled>
            <Hint className="mt-1">Filled in for each: {'{name}, {programme}, {join}, {rate WHEEL-1}'}</Hint>
            <p className="mt-2 flex gap-2">
              <select
                aria-label="Template"
                value=""
                onChange={(e) => {
                  const t = kept.find((x) => x.id === e.target.value);
                  if (t) setMessage(t.body);
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
              <input
                aria-label="Keep as template"
                placeholder="Keep as…"
                maxLength={60}
                value={keep}
                onChange={(e) => setKeep(e.target.value)}
                className="w-[110px] rounded-sm border border-rule px-2"
              />
              <Button
                disabled={!keep.trim()}
                busy={save.isPending}
                onClick={() =>
                  save.mutate({
                    body: {
                      use: 'invite',
                      name: keep,
                      subject: '',
                      body: message,
                      ...(taken ? { replaces: taken.version } : {}),
                    },
                  })
                }
              >
                {taken ? 'Replace' : 'Keep'}
              </Button>
            </p>
          </div>
          <div className="space-y-2">
            <div className="grid grid-cols-2 gap-2">
              <Labelled>
                Rate card
                <select value={card} onChange={(e) => setCard(e.target.value)} className={field}>
                  <option value="">as everybody</option>
                  {of('card').map((s) => (
                    <option key={s.id} value={s.id}>
                      {s.name}
                    </option>
                  ))}
                </select>
              </Labelled>
              <Labelled>
                Group
                <select value={group} onChange={(e) => setGroup(e.target.value)} className={field}>
                  <option value="">none</option>
                  {of('group').map((s) => (
                    <option key={s.id} value={s.id}>
                      {s.name}
                    </option>
                  ))}
                </select>
              </Labelled>
            </div>
            <Labelled>
              For
              <select value={product} onChange={(e) => setProduct(e.target.value)} className={field}>
                <option value="">the whole programme</option>
                {(products.data?.rows ?? []).map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </select>
            </Labelled>
            <fieldset>
              <legend className="font-semibold text-ink2">Tags, which they never see</legend>
              <div className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
                {of('tag').map((s) => (
                  <label key={s.id} className="flex items-center gap-1">
                    <input
                      type="checkbox"
                      checked={tags.includes(s.id)}
                      onChange={() =>
                        setTags(tags.includes(s.id) ? tags.filter((t) => t !== s.id) : [...tags, s.id])
                      }
                    />{' '}
                    {s.name}
                  </label>
                ))}
              </div>
            </fieldset>
            {view?.sample && (
              <div className="border-l-[3px] border-rule pl-3">
                <Hint>
                  As {view.lines.find((l) => l.outcome === 'invited')?.name ?? view.lines[0]?.name} reads it
                </Hint>
                <p
                  className="private max-h-[110px] overflow-auto font-serif text-[13px] whitespace-pre-wrap"
                  tabIndex={0}
                >
                  {view.sample}
                </p>
              </div>
            )}
          </div>
        </div>
        {asks.length > 0 && (
          <Note as="div" className="mt-3">
            <p>
              {asks
                .slice(0, 4)
                .map((l) => `${l.name} ${l.said}`)
                .join('; ')}
              {asks.length > 4 ? `; and ${asks.length - 4} more` : ''}.
            </p>
            <label className="mt-1 flex items-center gap-2">
              <input type="checkbox" checked={again} onChange={(e) => setAgain(e.target.checked)} /> Invite{' '}
              {asks.length === 1 ? 'it' : 'them'} again
            </label>
          </Note>
        )}
        {others.length > 0 && (
          <p className="mt-2 text-ink2">
            Not invited:{' '}
            {others
              .slice(0, 4)
              .map((l) => `${l.name} ${l.said}`)
              .join('; ')}
            {others.length > 4 ? `; and ${others.length - 4} more` : ''}.
          </p>
        )}
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
