import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { type ReplyOf } from '../../../../../contract/endpoint';
import { previewImport, runImport } from '../../../../../contract/recruit/roster';
import { useAct } from '../../../../kit/act';
import { Refused } from '../../../../kit/api';
import { Button } from '../../../../kit/button';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { useRefresh } from '../../../../kit/refresh';
import { useSend } from '../../../../kit/send';
import { Tick } from '../../../../kit/ticks';
import { GivenList, ReadLines } from '../../../shared/given-list';

const outcomeWords = { new: 'new', change: 'changes', same: 'as it is', wrong: 'left out' } as const;

const piece = 250;

type View = ReplyOf<typeof previewImport>;

/** The list read in piece by piece. @returns how far it is in lines, null while nothing is under way; a way to begin and to stop */
function useReading({ onDone, onFault }: { onDone: () => void; onFault: (said: string) => void }) {
  const send = useSend(runImport);
  const refresh = useRefresh();
  const [done, setDone] = useState<number | null>(null);
  const stop = useRef(false);
  const read = async (csv: string, tell: boolean) => {
    stop.current = false;
    setDone(0);
    const sum = { added: 0, changed: 0, wrong: 0 };
    try {
      for (let from: number | null = 0; from !== null && !stop.current;) {
        const r: ReplyOf<typeof runImport> = await send({ body: { csv, from, most: piece, tell } });
        sum.added += r.added;
        sum.changed += r.changed;
        sum.wrong += r.wrong;
        setDone(from + piece);
        from = r.next;
      }
      toast(
        `${stop.current ? 'Stopped: ' : ''}${sum.added} new, ${sum.changed} changed, ${sum.wrong} left out`,
      );
      await refresh(runImport);
      onDone();
    } catch (thrown) {
      onFault(
        `${thrown instanceof Refused ? thrown.problem.detail : 'It was interrupted.'} What was read in before stays: ${sum.added} new, ${sum.changed} changed. Read the same list again to go on.`,
      );
      setDone(null);
      await refresh(runImport);
    }
  };
  return {
    done,
    read,
    stop: () => {
      stop.current = true;
    },
  };
}

/** Reads a list of affiliates in: first line by line what it would do, then piece by piece, which can be stopped. */
export function ImportDialog({ onClose }: { onClose: () => void }) {
  const [csv, setCsv] = useState('');
  const [tell, setTell] = useState(true);
  const [view, setView] = useState<View | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const reading = useReading({ onDone: onClose, onFault: setFault });
  const preview = useAct(previewImport, {
    done: (v) => {
      setView(v);
      setFault(null);
    },
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It could not be read'),
  });
  const leave = () => {
    if (reading.done === null) onClose();
    else reading.stop();
  };
  return (
    <Dialog
      open
      onClose={leave}
      wide
      title="Read affiliates in"
      about="CSV with a heading: email or handle, and name, country, site, group, tags, kind as you have them. Who is known is changed, who is not is let in after hold."
    >
      <FormFault>{fault}</FormFault>
      <GivenList
        label="List"
        placeholder={
          'email,name,country,site,group,tags\nmara@loamletters.example,Loam Letters,PT,loamletters.example,Studio circle,"early, video"'
        }
        text={csv}
        onText={(text) => {
          setCsv(text);
          setView(null);
        }}
        onFault={setFault}
      />
      {view && <LineByLine view={view} tell={tell} setTell={setTell} />}
      {reading.done !== null && (
        <p role="status" className="mt-2">
          Reading in: {Math.min(reading.done, view?.total ?? 0).toLocaleString('en-GB')} of{' '}
          {view?.total.toLocaleString('en-GB')} lines
        </p>
      )}
      <DialogFoot>
        <Button onClick={leave}>{reading.done === null ? 'Leave it' : 'Stop'}</Button>
        {view ? (
          <Button
            look="main"
            disabled={changing(view) === 0}
            busy={reading.done !== null}
            onClick={() => void reading.read(csv, tell)}
          >
            Read in {changing(view).toLocaleString('en-GB')}
          </Button>
        ) : (
          <Button
            look="main"
            disabled={!csv.trim()}
            busy={preview.isPending}
            onClick={() => preview.mutate({ body: { csv } })}
          >
            See what it would do
          </Button>
        )}
      </DialogFoot>
    </Dialog>
  );
}

const changing = (view: View) => (view.counts.new ?? 0) + (view.counts.change ?? 0);

/** What the list would do, line by line, those left out first; and whether those who are new are told. */
function LineByLine({
  view,
  tell,
  setTell,
}: {
  view: View;
  tell: boolean;
  setTell: (tell: boolean) => void;
}) {
  return (
    <>
      <p className="mt-3 font-semibold" role="status">
        {(['wrong', 'new', 'change', 'same'] as const)
          .filter((k) => view.counts[k])
          .map((k) => `${view.counts[k]!.toLocaleString('en-GB')} ${outcomeWords[k]}`)
          .join(' · ')}{' '}
        <span className="font-normal text-ink3">of {view.total.toLocaleString('en-GB')} lines</span>
      </p>
      {view.passedHeadings.length > 0 && (
        <p className="text-ink3">Columns passed over: {view.passedHeadings.join(', ')}</p>
      )}
      <div className="mt-2 max-h-[200px] overflow-auto" tabIndex={0} role="region" aria-label="Line by line">
        <ReadLines
          lines={view.lines.map((l) => ({
            ...l,
            outcome: `${outcomeWords[l.outcome]}${l.why ? `: ${l.why}` : ''}`,
            wrong: l.outcome === 'wrong',
          }))}
        />
        {view.total > view.lines.length && (
          <p className="text-ink3">
            {view.lines.length} of {view.total.toLocaleString('en-GB')} lines, those left out first.
          </p>
        )}
      </div>
      {(view.counts.new ?? 0) > 0 && (
        <Tick on={tell} onChange={setTell} className="mt-2">
          Welcome the {view.counts.new} new by mail, with the way into the portal
        </Tick>
      )}
    </>
  );
}
