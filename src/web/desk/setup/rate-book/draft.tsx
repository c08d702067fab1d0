import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import {
  dateDraft,
  discardDraft,
  draftRate,
  dropChange,
  readDraft,
  saveDraft,
  startRehearsal,
  type DraftOut,
} from '../../../../contract/setup/rate-book';
import { momentOfWall, wallOf } from '../../../../core/calendar/wall';
import { addDays, dayOf } from '../../../../core/calendar/zone';
import { formatMoney } from '../../../../core/money/amount';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { DayField } from '../../../kit/day-input';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Pair } from '../../../kit/layout';
import { Note } from '../../../kit/note';
import { Bar } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { End, Moment } from '../../../kit/text';
import { WallField } from '../../../kit/wall-field';
import { useMay } from '../../roles';
import { beginsInWords } from './begins';
import type { Estimate } from './estimate';

/** The open draft of the person, or null. */
export function useDraftOfTerms(): DraftOut | null {
  const may = useMay();
  return useQuery({ ...asking(readDraft), enabled: may(draftRate) }).data ?? null;
}

/** "would have cost €38.12 more", or less, or the same. */
export function EstimateWords({ estimate }: { estimate: Estimate | null }) {
  const { base, day } = useProgramme();
  if (!estimate) return <span className="text-ink2">working out what it would have cost…</span>;
  if (estimate.lines === 0) return <span className="text-ink2">no sales yet to try it on</span>;
  const since = `the last ${estimate.lines.toLocaleString('en-GB')} lines${estimate.since ? `, since ${day(estimate.since)},` : ''}`;
  if (estimate.difference === 0)
    return (
      <span>
        {since} would have cost <b className="font-semibold">the same</b>
      </span>
    );
  return (
    <span>
      {since} would have cost{' '}
      <b className="font-semibold">
        {formatMoney({ amount: Math.abs(estimate.difference), currency: base })}
      </b>{' '}
      {estimate.difference > 0 ? 'more' : 'less'}
    </span>
  );
}

export type DraftAct = 'changes' | 'save' | 'rehearse' | null;
interface BarProps {
  draft: DraftOut;
  estimate: Estimate | null;
  open: DraftAct;
  setOpen: (act: DraftAct) => void;
}
/** The bar of an open draft: what it changes, what it would have cost, and what can be done with it. */
export function DraftBar({ draft, estimate, open, setOpen }: BarProps) {
  const { zone, now, day, base } = useProgramme();
  const navigate = useNavigate();
  const today = dayOf(now, zone);
  const [span, setSpan] = useState({ from: addDays(today, -90), to: today });
  const discard = useAct(discardDraft, { done: () => toast('The draft is thrown away') });
  const rehearse = useAct(startRehearsal, { done: (r) => void navigate(`/rates/rehearsal/${r.id}`) });
  const faults = draft.changes.reduce((n, c) => n + c.faults.length, 0);
  const first = draft.changes[0];
  return (
    <Bar tone="draft">
      <div className="min-w-0 flex-1 truncate">
        <button
          type="button"
          className="font-semibold underline decoration-dotted underline-offset-2"
          onClick={() => setOpen('changes')}
        >
          Draft, {counted(draft.changes.length, 'change')}
        </button>{' '}
        {faults > 0 ? (
          <span className="text-madder">
            {faults === 1 ? 'one thing stands' : `${faults} things stand`} against it
          </span>
        ) : draft.cuts > 0 && !draft.ready ? (
          <span className="text-ochre">a cut: not before {day(draft.earliest!)}</span>
        ) : draft.changes.length === 1 && first ? (
          <span>
            {first.place}: {first.before} → {first.after}
          </span>
        ) : null}
        {estimate && estimate.lines > 0 && (
          <>
            {' '}
            · the last {estimate.lines.toLocaleString('en-GB')} lines:{' '}
            <b className="font-semibold">
              {estimate.difference === 0
                ? 'no difference'
                : `${formatMoney({ amount: Math.abs(estimate.difference), currency: base })} ${estimate.difference > 0 ? 'more' : 'less'}`}
            </b>
          </>
        )}
      </div>
      <Button busy={discard.isPending} onClick={() => discard.mutate({ body: { version: draft.version } })}>
        Discard
      </Button>
      <Button keyName="R" onClick={() => setOpen('rehearse')}>
        Rehearse in full
      </Button>
      <Button look="main" keyName="S" onClick={() => setOpen('save')}>
        {draft.from === null ? 'Save…' : `Save as of ${day(draft.from)}…`}
      </Button>
      <Changes draft={draft} open={open === 'changes'} onClose={() => setOpen(null)} />
      <Save key={draft.version} draft={draft} open={open === 'save'} onClose={() => setOpen(null)} />
      <Dialog
        open={open === 'rehearse'}
        onClose={() => setOpen(null)}
        title="Rehearse in full"
        about="Replays every credited sale of the days you choose under the draft. Nothing is changed."
      >
        <form
          onSubmit={(e) => {
            e.preventDefault();
            rehearse.mutate({ body: span });
          }}
        >
          <Pair>
            {(['from', 'to'] as const).map((f) => (
              <DayField
                key={f}
                required
                label={f === 'from' ? 'From' : 'To, that day included'}
                value={span[f]}
                max={today}
                onDay={(day) => setSpan({ ...span, [f]: day })}
              />
            ))}
          </Pair>
          <p className="mt-2 flex gap-3 text-ink2">
            {[30, 90, 365].map((n) => (
              <button
                key={n}
                type="button"
                className="link"
                onClick={() => setSpan({ from: addDays(today, -n), to: today })}
              >
                last {n} days
              </button>
            ))}
          </p>
          <DialogFoot>
            <Button onClick={() => setOpen(null)}>Leave it</Button>
            <Button type="submit" look="main" busy={rehearse.isPending}>
              Rehearse
            </Button>
          </DialogFoot>
        </form>
      </Dialog>
    </Bar>
  );
}

function Changes({ draft, open, onClose }: { draft: DraftOut; open: boolean; onClose: () => void }) {
  const drop = useAct(dropChange);
  return (
    <Dialog
      open={open}
      onClose={onClose}
      wide
      title={`Draft, ${counted(draft.changes.length, 'change')}`}
      about={`Reaches ${counted(draft.affected, 'affiliate')}. Nothing counts until it is saved.`}
    >
      <table className="table">
        <thead>
          <tr>
            <th>What</th>
            <th className="figure">Before</th>
            <th className="figure">After</th>
            <th>When</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {draft.changes.map((c) => (
            <tr key={c.id} className="align-top">
              <td className="whitespace-normal!">
                <div className="py-2">
                  {c.place}
                  {c.faults.map((f) => (
                    <p key={f.what} className="text-madder">
                      {f.what}
                    </p>
                  ))}
                  {c.cut && <p className="text-ochre">A cut: {c.cut}</p>}
                  {c.ignoredBy.length > 0 && (
                    <p className="text-ink3">Ignored by {c.ignoredBy.join(', ')}, locked</p>
                  )}
                </div>
              </td>
              <td className="figure text-ink2">{c.before}</td>
              <td className="figure font-semibold">{c.after}</td>
              <td className="text-ink2">
                {c.from === null ? 'with the draft' : <Moment at={c.from} />}
                {c.until !== null && (
                  <>
                    {' '}
                    – <End at={c.until} />
                  </>
                )}
              </td>
              <td>
                <Button
                  look="bare"
                  aria-label={`Take out ${c.place}`}
                  onClick={() => drop.mutate({ params: { id: c.id } })}
                >
                  Take out
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <DialogFoot>
        <Button onClick={onClose}>Close</Button>
      </DialogFoot>
    </Dialog>
  );
}

function Save({ draft, open, onClose }: { draft: DraftOut; open: boolean; onClose: () => void }) {
  const { zone, now, moment, day } = useProgramme();
  const [from, setFrom] = useState(draft.from === null ? '' : wallOf(draft.from, zone));
  const date = useAct(dateDraft);
  const save = useAct(saveDraft, {
    done: (r) => {
      onClose();
      toast(
        `${counted(r.saved, 'change')} saved, ${r.from === r.last ? `from ${moment(r.from)}` : `the first from ${moment(r.from)}, the last from ${moment(r.last)}`}`,
      );
    },
  });
  const chosen = momentOfWall(from, zone);
  const past = chosen !== null && chosen < now;
  const begins = beginsInWords(
    draft.changes.map((c) => c.from),
    chosen,
    moment,
  );
  const faults = draft.changes.flatMap((c) => c.faults.map((f) => `${c.place}: ${f.what}`));
  const submit = async () => {
    let version = draft.version;
    if (from !== (draft.from === null ? '' : wallOf(draft.from, zone))) {
      const dated = await date.mutateAsync({ body: { from: from || null, version } }).catch(() => null);
      if (!dated) return;
      version = dated.version;
    }
    save.mutate({ body: { version } });
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Save the draft"
      about={`${counted(draft.changes.length, 'change')}, for ${counted(draft.affected, 'affiliate')}. What is granted already stays as it is.`}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void submit();
        }}
      >
        <WallField label="Begins" value={from} onChange={setFrom} empty="at once, when you save" />
        {past && (
          <Note className="mt-2">
            This start lies in the past. It reaches orders of that time that are reported from now on;
            commissions granted already keep the rate of their day.
          </Note>
        )}
        {draft.earliest !== null && (
          <Note className="mt-2">
            {draft.cuts === 1 ? 'One change earns' : `${draft.cuts} changes earn`} somebody less. The
            programme promises {counted(draft.noticeWeeks, 'week')} of notice, so it cannot begin before{' '}
            {moment(draft.earliest)}.{' '}
            <button
              type="button"
              className="link"
              onClick={() => setFrom(`${addDays(dayOf(draft.earliest!, zone), 1)}T00:00`)}
            >
              Begin on {day(draft.earliest + 86_400_000)}
            </button>
          </Note>
        )}
        {faults.map((f) => (
          <Note tone="refused" key={f} className="mt-2">
            {f}
          </Note>
        ))}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            type="submit"
            look="main"
            disabled={faults.length > 0}
            busy={save.isPending || date.isPending}
          >
            Save, {begins}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
