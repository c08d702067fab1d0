import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { weighDecision } from '../../../../../contract/recruit/applications';
import { timingWords } from '../../../../../core/ledger/timing';
import type { Id } from '../../../../../core/text/id';
import { asking } from '../../../../kit/asking';
import { Button } from '../../../../kit/button';
import { DayInput } from '../../../../kit/day-input';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { TextArea } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import { Tick } from '../../../../kit/ticks';
import { type ApplicationView, type Decision, type Trust } from '../decision';
import { Risk } from './risk';

interface Props {
  decision: Decision;
  ids: Id<'application'>[];
  current: ApplicationView | null;
  rows: { id: string; name: string }[];
  busy: boolean;
  onClose: () => void;
  onDecide: (reason: string, message: boolean, trust: Trust) => void;
}

/** Asks before many are decided, before money goes out at sale with what could be lost in figures, and for the reason of a decline. */
export function DecisionDialog(props: Props) {
  const names = namesOf(props);
  return props.decision === 'decline' ? (
    <Declining {...props} names={names} />
  ) : (
    <Approving {...props} decision={props.decision} names={names} />
  );
}

const namesOf = ({ ids, rows, current }: Props) =>
  ids.map((id) => rows.find((r) => r.id === id)?.name ?? (current?.id === id ? current.name : id));

const whoInWords = (names: string[]) => (names.length === 1 ? names[0]! : `${names.length} applicants`);

const howMany = (names: string[]) => (names.length > 1 ? names.length : '');

/** Those who are decided on, the first six by name. */
function Names({ names }: { names: string[] }) {
  const more = names.length > 6 ? ` and ${names.length - 6} more` : '';
  return <span className="private">{`${names.slice(0, 6).join(', ')}${more}`}</span>;
}

function Approving({
  decision,
  ids,
  names,
  current,
  busy,
  onClose,
  onDecide,
}: Props & { decision: Exclude<Decision, 'decline'>; names: string[] }) {
  const [trusted, setTrusted] = useState(false);
  const [until, setUntil] = useState('');
  const weighed = useQuery(asking(weighDecision, { body: { ids } }));
  const atSale = decision === 'at-sale';
  const risk = atSale ? (current?.atSaleRisk ?? '') : '';
  return (
    <Dialog
      open
      onClose={onClose}
      wide={atSale}
      title={`Approve ${whoInWords(names)}, ${timingWords[decision]}`}
      about={names.length > 1 ? <Names names={names} /> : risk}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onDecide('', true, trusted ? { until, atSale } : null);
        }}
      >
        {atSale && weighed.data && <Risk weighed={weighed.data} />}
        <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1">
          <Tick on={trusted} onChange={setTrusted}>
            Also for every later product, {timingWords[decision]}
          </Tick>
          {trusted && <Until until={until} setUntil={setUntil} />}
        </div>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            type="submit"
            look="main"
            busy={busy}
            autoFocus
            disabled={busy || (atSale && weighed.isPending)}
          >
            {`Approve ${howMany(names)}`}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

function Until({ until, setUntil }: { until: string; setUntil: (day: string) => void }) {
  return (
    <span className="text-ink2">
      until <DayInput label="until" value={until} onDay={setUntil} />{' '}
      <span className="text-ink3">{until ? '' : 'without an end; it lapses when refunds rise'}</span>
    </span>
  );
}

function Declining({ names, busy, onClose, onDecide }: Props & { names: string[] }) {
  const [reason, setReason] = useState('');
  const [message, setMessage] = useState(true);
  const [missing, setMissing] = useState(false);
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Decline ${whoInWords(names)}`}
      about={names.length > 1 ? <Names names={names} /> : ''}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (reason.trim() === '') setMissing(true);
          else onDecide(reason.trim(), message, null);
        }}
      >
        <Labelled>
          Reason
          <TextArea
            autoFocus
            rows={3}
            maxLength={500}
            value={reason}
            onText={(text) => {
              setReason(text);
              setMissing(false);
            }}
            aria-invalid={missing}
            placeholder="Coupon sites are not part of this programme"
            className={`mt-1 ${missing ? 'border-madder!' : ''}`}
          />
        </Labelled>
        {missing && (
          <p role="alert" className="text-madder">
            The reason is empty: it is kept with the decision, and sent if you choose so.
          </p>
        )}
        <Tick on={message} onChange={setMessage} className="mt-2">
          Send it to {names.length === 1 ? 'them' : 'each of them'} as a message
        </Tick>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="danger" busy={busy}>
            {`Decline ${howMany(names)}`}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
