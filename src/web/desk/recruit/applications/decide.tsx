import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import { askApplicant, weighDecision } from '../../../../contract/recruit/applications';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Labelled } from '../../../kit/labelled';
import { Hint, Note } from '../../../kit/note';
import { Bar } from '../../../kit/place';
import { Money, Share } from '../../../kit/text';
import type { ApplicationView } from './sheet';

export type Decision = 'after-hold' | 'at-sale' | 'decline';

export type Trust = { until: string; atSale: boolean } | null;

interface BarProps {
  may: boolean;
  enabled: boolean;
  begin: (d: Decision) => void;
  onAsk: () => void;
  onBlock: () => void;
  selected: number;
  position: number;
  total: number;
  state: string;
}

export function DecisionBar({
  may,
  enabled,
  begin,
  onAsk,
  onBlock,
  selected,
  position,
  total,
  state,
}: BarProps) {
  const open = state === 'waiting' || state === 'asked';
  const many = selected > 1 ? ` ${selected}` : '';
  return (
    <Bar>
      {may && open && (
        <>
          <Button look="main" keyName="A" disabled={!enabled} onClick={() => begin('after-hold')}>
            Approve{many}, after hold
          </Button>
          <Button keyName="S" disabled={!enabled} onClick={() => begin('at-sale')}>
            Approve{many}, at sale
          </Button>
          <Button keyName="D" disabled={!enabled} onClick={() => begin('decline')}>
            Decline{many}
          </Button>
          {selected <= 1 && (
            <Button keyName="Q" disabled={!enabled} onClick={onAsk}>
              Ask…
            </Button>
          )}
        </>
      )}
      {may && (state === 'approved' || state === 'declined') && (
        <>
          <Button keyName="A" disabled={!enabled} onClick={() => begin('after-hold')}>
            {state === 'approved' ? 'After hold instead' : 'Approve after all'}
          </Button>
          <Button keyName="S" disabled={!enabled} onClick={() => begin('at-sale')}>
            {state === 'approved' ? 'At sale instead' : 'Approve after all, at sale'}
          </Button>
          {state === 'approved' && (
            <Button keyName="D" disabled={!enabled} onClick={() => begin('decline')}>
              Decline after all
            </Button>
          )}
        </>
      )}
      {may && selected <= 1 && position > 0 && (
        <Button look="danger" keyName="B" onClick={onBlock}>
          Block
        </Button>
      )}
      <span className="ml-auto text-ink2">
        {selected > 0 ? `${selected} selected · ` : ''}
        {position || 0} of {total} · <kbd>J</kbd> <kbd>K</kbd> move · <kbd>X</kbd> select · <kbd>?</kbd> all
        keys
      </span>
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
  onDecide: (reason: string, message: boolean, trust: Trust) => void;
}

/** Asks before many are decided, before money goes out at sale with what could be lost in figures, and for the reason of a decline. */
export function DecisionDialog(props: DialogProps) {
  return props.decision ? (
    <Asking key={`${props.decision} ${props.ids.join()}`} {...props} decision={props.decision} />
  ) : null;
}

function Asking({
  decision,
  ids,
  current,
  rows,
  busy,
  onClose,
  onDecide,
}: DialogProps & { decision: Decision }) {
  const [reason, setReason] = useState('');
  const [message, setMessage] = useState(true);
  const [missing, setMissing] = useState(false);
  const [trusted, setTrusted] = useState(false);
  const [until, setUntil] = useState('');
  const field = useId();
  const approving = decision !== 'decline';
  const weighed = useQuery({
    queryKey: ['weigh', ids],
    queryFn: () => call(weighDecision, { body: { ids } }),
    enabled: approving,
  });
  const names = ids.map(
    (id) => rows.find((r) => r.id === id)?.name ?? (current?.id === id ? current.name : id),
  );
  const who = names.length === 1 ? names[0]! : `${names.length} applicants`;
  const title =
    decision === 'decline'
      ? `Decline ${who}`
      : `Approve ${who}, ${decision === 'at-sale' ? 'at sale' : 'after hold'}`;
  const about =
    names.length > 1 ? (
      <span className="private">{`${names.slice(0, 6).join(', ')}${names.length > 6 ? ` and ${names.length - 6} more` : ''}`}</span>
    ) : decision === 'at-sale' && current ? (
      current.atSaleRisk
    ) : (
      ''
    );
  const weak = weighed.data?.rows.filter((r) => r.weak) ?? [];
  return (
    <Dialog open onClose={onClose} wide={decision === 'at-sale'} title={title} about={about}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (decision === 'decline' && reason.trim() === '') return setMissing(true);
          return onDecide(
            reason.trim(),
            message,
            approving && trusted ? { until, atSale: decision === 'at-sale' } : null,
          );
        }}
      >
        {decision === 'at-sale' && weighed.data && (
          <>
            {weak.length > 0 && (
              <Note role="alert" className="mb-2">
                <b className="font-semibold">
                  {weak.length === names.length
                    ? weak.length === 1
                      ? 'The evidence is weak'
                      : 'The evidence of all is weak'
                    : `The evidence of ${weak.length} is weak`}
                </b>
                : fewer than 10 cleared sales, or refunds above your line. At sale, refunds after payment are
                out of your pocket until they are netted.
              </Note>
            )}
            <div
              className="max-h-[220px] overflow-auto"
              tabIndex={0}
              role="region"
              aria-label="What could be lost"
            >
              <table className="sums">
                <thead>
                  <tr className="text-[12px] text-ink3">
                    <th className="text-left font-normal">Applicant</th>
                    <th className="text-right font-normal">Cleared</th>
                    <th className="text-right font-normal">Refund rate</th>
                    <th className="pl-3 text-right font-normal">Lost in 100 sales</th>
                  </tr>
                </thead>
                <tbody>
                  {[...weighed.data.rows]
                    .sort((a, b) => Number(b.weak) - Number(a.weak))
                    .map((r) => (
                      <tr key={r.id} className={r.weak ? 'text-ochre' : ''}>
                        <td className="private">{r.name}</td>
                        <td className="text-right">{r.cleared}</td>
                        <td className="text-right">
                          <Share ppm={r.refundRate} />
                        </td>
                        <td>
                          <Money of={r.loss} />
                        </td>
                      </tr>
                    ))}
                  {weighed.data.rows.length > 1 && (
                    <tr className="sum">
                      <td>Together, with 100 sales each</td>
                      <td />
                      <td />
                      <td>
                        <Money of={weighed.data.loss} />
                      </td>
                    </tr>
                  )}
                </tbody>
              </table>
            </div>
          </>
        )}
        {decision === 'decline' && (
          <>
            <Labelled htmlFor={field} className="mb-1">
              Reason
            </Labelled>
            <textarea
              id={field}
              autoFocus
              rows={3}
              maxLength={500}
              value={reason}
              onChange={(e) => {
                setReason(e.target.value);
                setMissing(false);
              }}
              aria-invalid={missing}
              placeholder="Coupon sites are not part of this programme"
              className={`w-full rounded-sm border bg-sheet px-2 py-1 ${missing ? 'border-madder' : 'border-rule'}`}
            />
            {missing && (
              <p role="alert" className="text-madder">
                The reason is empty: it is kept with the decision, and sent if you choose so.
              </p>
            )}
            <label className="mt-2 flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-copper"
                checked={message}
                onChange={(e) => setMessage(e.target.checked)}
              />{' '}
              Send it to {names.length === 1 ? 'them' : 'each of them'} as a message
            </label>
          </>
        )}
        {approving && (
          <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-copper"
                checked={trusted}
                onChange={(e) => setTrusted(e.target.checked)}
              />{' '}
              Also for every later product{decision === 'at-sale' ? ', at sale' : ', after hold'}
            </label>
            {trusted && (
              <label className="text-ink2">
                until{' '}
                <input
                  type="date"
                  value={until}
                  onChange={(e) => setUntil(e.target.value)}
                  className="rounded-sm border border-rule px-2 py-px"
                />{' '}
                <span className="text-ink3">
                  {until ? '' : 'without an end; it lapses when refunds rise'}
                </span>
              </label>
            )}
          </div>
        )}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            type="submit"
            look={decision === 'decline' ? 'danger' : 'main'}
            busy={busy}
            autoFocus={approving}
            disabled={busy || (decision === 'at-sale' && weighed.isPending)}
          >
            {decision === 'decline'
              ? `Decline ${names.length > 1 ? names.length : ''}`
              : `Approve ${names.length > 1 ? names.length : ''}`}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

/** Asks an applicant something before deciding. */
export function AskDialog({ of, onClose }: { of: ApplicationView; onClose: () => void }) {
  const [text, setText] = useState('');
  const field = useId();
  const ask = useAct(askApplicant, {
    done: () => {
      onClose();
      toast(`${of.name} is asked; the answer comes back here`);
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Ask ${of.name}`}
      about="By mail, with a link to answer. The application stands under “asked” until the answer is here."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          ask.mutate({ params: { id: of.id }, body: { question: text } });
        }}
      >
        <Labelled htmlFor={field} className="mb-1">
          Question
        </Labelled>
        <textarea
          id={field}
          autoFocus
          required
          minLength={3}
          maxLength={1000}
          rows={4}
          value={text}
          onChange={(e) => setText(e.target.value)}
          placeholder="Which of your sites would carry the links?"
          className="w-full rounded-sm border border-rule bg-sheet px-2 py-1"
        />
        <Hint className="mt-1">
          {of.asksLeft} more {of.asksLeft === 1 ? 'message' : 'messages'} may go to people who have not joined
          today.
        </Hint>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={ask.isPending}>
            Ask
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
