import { useId, useState } from 'react';
import { toast } from 'sonner';
import { askApplicant } from '../../../contract/recruiting';
import { useAct } from '../../kit/act';
import { Button } from '../../kit/button';
import { Dialog, DialogFoot } from '../../kit/dialog';
import { Bar } from '../../kit/place';
import type { ApplicationView } from './sheet';

export type Decision = 'after-hold' | 'at-sale' | 'decline';

interface BarProps { may: boolean; enabled: boolean; begin: (d: Decision) => void; onAsk: () => void; selected: number; position: number; total: number; state: string }

export function DecisionBar({ may, enabled, begin, onAsk, selected, position, total, state }: BarProps) {
  return (
    <Bar>
      {may && (state === 'waiting' || state === 'asked') && <>
        <Button look="main" keyName="A" disabled={!enabled} onClick={() => begin('after-hold')}>Approve{selected > 1 ? ` ${selected}` : ''}, after hold</Button>
        <Button keyName="S" disabled={!enabled} onClick={() => begin('at-sale')}>Approve{selected > 1 ? ` ${selected}` : ''}, at sale</Button>
        <Button keyName="D" disabled={!enabled} onClick={() => begin('decline')}>Decline{selected > 1 ? ` ${selected}` : ''}</Button>
        {selected <= 1 && <Button keyName="Q" disabled={!enabled} onClick={onAsk}>Ask…</Button>}
      </>}
      <span className="ml-auto text-ink2">{selected > 0 ? `${selected} selected · ` : ''}{position || 0} of {total} · <kbd>J</kbd> <kbd>K</kbd> move · <kbd>X</kbd> select · <kbd>?</kbd> all keys</span>
    </Bar>
  );
}

interface DialogProps {
  decision: Decision | null;
  ids: string[];
  current: ApplicationView | null;
  rows: { id: string; name: string }[];
  busy: boolean;
  onClose: () => void;
  onDecide: (reason: string, message: boolean) => void;
}

/** Asks before many are decided, before money goes out at sale, and for the reason of a decline. */
export function DecisionDialog({ decision, ids, current, rows, busy, onClose, onDecide }: DialogProps) {
  const [reason, setReason] = useState('');
  const [message, setMessage] = useState(true);
  const [missing, setMissing] = useState(false);
  const field = useId();
  if (!decision) return null;
  const names = ids.map((id) => rows.find((r) => r.id === id)?.name ?? (current?.id === id ? current.name : id));
  const who = names.length === 1 ? names[0]! : `${names.length} applicants`;
  const title = decision === 'decline' ? `Decline ${who}` : `Approve ${who}, ${decision === 'at-sale' ? 'at sale' : 'after hold'}`;
  const about = names.length > 1 ? `${names.slice(0, 6).join(', ')}${names.length > 6 ? ` and ${names.length - 6} more` : ''}` : decision === 'at-sale' && current ? current.atSaleRisk : '';
  return (
    <Dialog open onClose={onClose} title={title} about={about}>
      <form onSubmit={(e) => {
        e.preventDefault();
        if (decision === 'decline' && reason.trim() === '') return setMissing(true);
        return onDecide(reason.trim(), message);
      }}>
        {decision === 'at-sale' && (names.length > 1 || current?.weak) && <p className="mb-2 border-l-[3px] border-ochre bg-ochre-wash px-3 py-2">{names.length > 1 ? 'Commissions are paid before the refund window has passed; refunds after that are out of your pocket until they are netted.' : 'The record is thin or its refunds are high: refunds after payment are out of your pocket until they are netted.'}</p>}
        {decision === 'decline' && <>
          <label htmlFor={field} className="mb-1 block font-semibold text-ink2">Reason</label>
          <textarea id={field} autoFocus rows={3} maxLength={500} value={reason} onChange={(e) => { setReason(e.target.value); setMissing(false); }} aria-invalid={missing} placeholder="Coupon sites are not part of this programme" className={`w-full rounded-sm border bg-sheet px-2 py-1 ${missing ? 'border-madder' : 'border-rule'}`} />
          {missing && <p role="alert" className="text-madder">The reason is empty: it is kept with the decision, and sent if you choose so.</p>}
          <label className="mt-2 flex items-center gap-2"><input type="checkbox" className="accent-copper" checked={message} onChange={(e) => setMessage(e.target.checked)} /> Send it to {names.length === 1 ? 'them' : 'each of them'} as a message</label>
        </>}
        <DialogFoot><Button onClick={onClose}>Leave it</Button><Button type="submit" look={decision === 'decline' ? 'danger' : 'main'} busy={busy}>{decision === 'decline' ? `Decline ${names.length > 1 ? names.length : ''}` : `Approve ${names.length > 1 ? names.length : ''}`}</Button></DialogFoot>
      </form>
    </Dialog>
  );
}

/** Asks an applicant something before deciding. */
export function AskDialog({ of, onClose }: { of: ApplicationView; onClose: () => void }) {
  const [text, setText] = useState('');
  const field = useId();
  const ask = useAct(askApplicant, { done: () => { onClose(); toast(`${of.name} is asked; the answer comes back here`); } });
  return (
    <Dialog open onClose={onClose} title={`Ask ${of.name}`} about="By mail, with a link to answer. The application stands under “asked” until the answer is here.">
      <form onSubmit={(e) => { e.preventDefault(); ask.mutate({ params: { id: of.id }, body: { question: text } }); }}>
        <label htmlFor={field} className="mb-1 block font-semibold text-ink2">Question</label>
        <textarea id={field} autoFocus required minLength={3} maxLength={1000} rows={4} value={text} onChange={(e) => setText(e.target.value)} placeholder="Which of your sites would carry the links?" className="w-full rounded-sm border border-rule bg-sheet px-2 py-1" />
        <p className="mt-1 text-[12px] text-ink3">{of.asksLeft} more {of.asksLeft === 1 ? 'message' : 'messages'} may go to people who have not joined today.</p>
        <DialogFoot><Button onClick={onClose}>Leave it</Button><Button type="submit" look="main" busy={ask.isPending}>Ask</Button></DialogFoot>
      </form>
    </Dialog>
  );
}
