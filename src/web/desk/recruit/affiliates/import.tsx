import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { previewImport, runImport } from '../../../../contract/recruit/roster';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { useSend } from '../../../kit/send';
import { Code } from '../../../kit/text';

const outcomeWords = { new: 'new', change: 'changes', same: 'as it is', wrong: 'left out' } as const;
const piece = 250;

/** Reads a list of affiliates in: first line by line what it would do, then piece by piece, which can be stopped. */
export function ImportDialog({ onClose }: { onClose: () => void }) {
  const send = useSend(runImport);
  const [csv, setCsv] = useState('');
  const [tell, setTell] = useState(true);
  const [view, setView] = useState<ReplyOf<typeof previewImport> | null>(null);
  const [done, setDone] = useState<number | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const stop = useRef(false);
  const queries = useQueryClient();
  const preview = useAct(previewImport, {
    done: (v) => {
      setView(v);
      setFault(null);
    },
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It could not be read'),
  });
  const take = async (file: File | undefined) => {
    if (!file) return;
    if (file.size > 5_000_000) {
      setFault(`${file.name} is larger than 5 MB: read it in by halves.`);
      return;
    }
    setCsv(await file.text());
    setView(null);
  };
  const read = async () => {
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
      await queries.invalidateQueries();
      onClose();
    } catch (thrown) {
      setFault(
        `${thrown instanceof Refused ? thrown.problem.detail : 'It was interrupted.'} What was read in before stays: ${sum.added} new, ${sum.changed} changed. Read the same list again to go on.`,
      );
      setDone(null);
      await queries.invalidateQueries();
    }
  };
  const will = view ? (view.counts.new ?? 0) + (view.counts.change ?? 0) : 0;
  return (
    <Dialog
      open
      onClose={() => {
        if (done === null) onClose();
        else stop.current = true;
      }}
      wide
      title="Read affiliates in"
      about="CSV with a heading: email or handle, and name, country, site, group, tags, kind as you have them. Who is known is changed, who is not is let in after hold."
    >
      <FormFault>{fault}</FormFault>
      <textarea
        aria-label="List"
        autoFocus
        rows={5}
        value={csv}
        onChange={(e) => {
          setCsv(e.target.value);
          setView(null);
        }}
        placeholder={
          'email,name,country,site,group,tags\nmara@loamletters.example,Loam Letters,PT,loamletters.example,Studio circle,"early, video"'
        }
        className="w-full rounded-sm border border-rule px-2 py-1 font-mono text-[12px]"
      />
      <label className="mt-1 block text-ink2">
        or a file{' '}
        <input
          type="file"
          accept=".csv,.txt,text/csv,text/plain"
          onChange={(e) => void take(e.target.files?.[0])}
        />
      </label>
      {view && (
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
          <div
            className="mt-2 max-h-[200px] overflow-auto"
            tabIndex={0}
            role="region"
            aria-label="Line by line"
          >
            <table className="table">
              <thead>
                <tr>
                  <th className="figure">Line</th>
                  <th>Written</th>
                  <th>Who</th>
                  <th>Outcome</th>
                </tr>
              </thead>
              <tbody>
                {view.lines.map((l) => (
                  <tr key={l.line}>
                    <td className="figure">{l.line}</td>
                    <td>
                      <Code>{l.said}</Code>
                    </td>
                    <td>{l.name || '—'}</td>
                    <td
                      className={`whitespace-normal! ${l.outcome === 'wrong' ? 'text-madder' : 'text-ink2'}`}
                    >
                      {outcomeWords[l.outcome]}
                      {l.why ? `: ${l.why}` : ''}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {view.total > view.lines.length && (
              <p className="text-ink3">
                {view.lines.length} of {view.total.toLocaleString('en-GB')} lines, those left out first.
              </p>
            )}
          </div>
          {(view.counts.new ?? 0) > 0 && (
            <label className="mt-2 flex items-center gap-2">
              <input type="checkbox" checked={tell} onChange={(e) => setTell(e.target.checked)} /> Welcome the{' '}
              {view.counts.new} new by mail, with the way into the portal
            </label>
          )}
        </>
      )}
      {done !== null && (
        <p role="status" className="mt-2">
          Reading in: {Math.min(done, view?.total ?? 0).toLocaleString('en-GB')} of{' '}
          {view?.total.toLocaleString('en-GB')} lines
        </p>
      )}
      <DialogFoot>
        <Button
          onClick={() => {
            if (done === null) onClose();
            else stop.current = true;
          }}
        >
          {done === null ? 'Leave it' : 'Stop'}
        </Button>
        {view ? (
          <Button look="main" disabled={will === 0} busy={done !== null} onClick={() => void read()}>
            Read in {will.toLocaleString('en-GB')}
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
