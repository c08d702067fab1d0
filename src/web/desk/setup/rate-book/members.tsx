import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  addMembers,
  dropMembers,
  listMembers,
  previewMembers,
  type SetOut,
} from '../../../../contract/setup/sets';
import { counted } from '../../../../core/text/counted';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { under, useList } from '../../../kit/lists';
import { Pick } from '../../../kit/pick';
import { Empty, Failed } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Day } from '../../../kit/text';
import { useMay } from '../../roles';
import { BeforeAfter } from '../../shared/before-after';
import { findAffiliates } from '../../shared/find-affiliates';
import { GivenList, ReadLines, type ReadLine } from '../../shared/given-list';
import { laterInWords, NoticeNote } from '../../shared/notice';

const outcomeWords = {
  add: 'added',
  move: 'in another',
  already: 'in it already',
  repeated: 'named twice',
  unknown: 'unknown',
} as const;

/** Members of a card, group or tag: found, added by picking, pasting or a file, taken out. */
export function Members({ set }: { set: SetOut }) {
  const [params] = useSearchParams();
  const q = params.get('q') ?? '';
  const may = useMay();
  const navigate = useNavigate();
  const { day } = useProgramme();
  const list = useList(under(listMembers, set.id), q ? { q } : {});
  const [pasting, setPasting] = useState(false);
  const [names, setNames] = useState('');
  const again = useAct(addMembers);
  const drop = useAct(dropMembers, { done: () => undefined });
  const dropOne = (r: { id: Id<'affiliate'>; name: string; handle: string }) =>
    drop.mutate(
      { params: { id: set.id }, body: { affiliates: [r.id] } },
      {
        onSuccess: ({ later }) =>
          toast(
            later
              ? `${r.name} would earn less outside ${set.name}, and leaves it on ${day(later.from)}, after the notice`
              : `${r.name} is out of ${set.name}`,
            {
              duration: 10_000,
              action: {
                label: 'Take back',
                onClick: () =>
                  again.mutate({ params: { id: set.id }, body: { names: r.handle, others: 'keep' } }),
              },
            },
          ),
      },
    );
  const mayEdit = may(addMembers);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <div className="flex items-center gap-4 px-5 pb-2">
        <SearchField label="Find a member" />
        {mayEdit && (
          <>
            <span className="whitespace-nowrap">
              Add{' '}
              <Pick
                label="Add an affiliate"
                find={findAffiliates}
                onPick={(p) => {
                  setNames(p.id);
                  setPasting(true);
                }}
              >
                somebody
              </Pick>
            </span>
            <Button
              onClick={() => {
                setNames('');
                setPasting(true);
              }}
            >
              Paste a list…
            </Button>
          </>
        )}
      </div>
      <Table
        label="Members"
        rows={list.rows}
        idOf={(r) => r.id}
        onEnd={list.onEnd}
        loading={list.loading}
        onOpen={(r) => void navigate(`/affiliates/${r.id}`)}
        empty={
          <Empty title={q ? 'Nobody of that name is in it' : 'Nobody is in it yet'}>
            {mayEdit ? 'Add people by name, or paste a list of handles or e-mail addresses.' : ''}
          </Empty>
        }
        columns={[
          { head: 'Name', cell: (r) => <span className="private">{r.name}</span> },
          {
            head: 'Handle',
            cell: (r) => (
              <span className="block max-w-[84px] truncate" title={r.handle}>
                <Code>{r.handle}</Code>
              </span>
            ),
          },
          { head: 'State', cell: (r) => <State is={r.state} />, width: '100px' },
          { head: 'Since', cell: (r) => <Day at={r.since || null} />, width: '110px' },
          {
            head: '',
            width: '84px',
            cell: (r) =>
              mayEdit && set.of !== 'card' ? (
                <Button
                  look="bare"
                  aria-label={`Take ${r.name} out`}
                  onClick={(e) => {
                    e.stopPropagation();
                    dropOne(r);
                  }}
                >
                  Take out
                </Button>
              ) : null,
          },
        ]}
      />
      {pasting && <Adding set={set} begin={names} onClose={() => setPasting(false)} />}
    </>
  );
}

type View = ReplyOf<typeof previewMembers>;

function Adding({ set, begin, onClose }: { set: SetOut; begin: string; onClose: () => void }) {
  const [names, setNames] = useState(begin);
  const [others, setOthers] = useState<'move' | 'keep'>('move');
  const [view, setView] = useState<ReplyOf<typeof previewMembers> | null>(null);
  const { day } = useProgramme();
  const preview = useAct(previewMembers, { done: setView });
  const add = useAct(addMembers, {
    done: (r) => {
      onClose();
      toast(
        [
          ...(r.later
            ? [`${r.added + r.moved - r.later.count} at once`, laterInWords(r.later, day)]
            : [`${r.added} added`, r.moved ? `${r.moved} moved` : '']),
          r.kept ? `${r.kept} kept where they are` : '',
          r.unknown ? `${r.unknown} unknown` : '',
        ]
          .filter(Boolean)
          .join(', '),
      );
    },
  });
  const moving = view?.counts.move ?? 0;
  const will = (view?.counts.add ?? 0) + (others === 'move' ? moving : 0);
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Add to ${set.name}`}
      about="Handles or e-mail addresses, parted by commas or lines; or a CSV with a column “handle” or “email”."
    >
      <GivenList
        label="Affiliates"
        placeholder="loam-letters, kiln-notes"
        text={names}
        onText={(text) => {
          setNames(text);
          setView(null);
        }}
      />
      {view && (
        <Preview view={view} moving={moving} set={set} others={others} setOthers={setOthers} will={will} />
      )}
      <DialogFoot>
        <Button onClick={onClose}>Leave it</Button>
        {view ? (
          <Button
            look="main"
            busy={add.isPending}
            disabled={will === 0}
            onClick={() => add.mutate({ params: { id: set.id }, body: { names, others } })}
          >
            Add {will.toLocaleString('en-GB')}
          </Button>
        ) : (
          <Button
            look="main"
            busy={preview.isPending}
            disabled={names.trim() === ''}
            onClick={() => preview.mutate({ params: { id: set.id }, body: { names } })}
          >
            See what it would do
          </Button>
        )}
      </DialogFoot>
    </Dialog>
  );
}

/** The first 200 lines of a list, the unknown ones first. */
function linesOf(view: View): ReadLine[] {
  const unknownFirst = [...view.lines].sort(
    (a, b) => Number(b.outcome === 'unknown') - Number(a.outcome === 'unknown'),
  );
  return unknownFirst.slice(0, 200).map((l) => ({
    ...l,
    outcome: `${outcomeWords[l.outcome]}${l.from ? `: ${l.from}` : ''}`,
    wrong: l.outcome === 'unknown',
  }));
}

/** What the list would do, line by line, and to the terms of those on it. */
function Preview({
  view,
  moving,
  set,
  others,
  setOthers,
  will,
}: {
  view: View;
  moving: number;
  set: SetOut;
  others: 'move' | 'keep';
  setOthers: React.Dispatch<React.SetStateAction<'move' | 'keep'>>;
  will: number;
}) {
  return (
    <>
      <p className="mt-3 font-semibold" role="status">
        {(Object.keys(outcomeWords) as (keyof typeof outcomeWords)[])
          .filter((k) => view.counts[k])
          .map((k) => `${view.counts[k]!.toLocaleString('en-GB')} ${outcomeWords[k]}`)
          .join(' · ')}
      </p>
      {moving > 0 && (
        <fieldset className="mt-1 border-l-[3px] border-ochre bg-ochre-wash px-3 py-2">
          <legend className="sr-only">Those in another</legend>
          {counted(moving, 'is', 'are')} in another {set.of}:{' '}
          <label className="ml-2">
            <input
              type="radio"
              name="others"
              checked={others === 'move'}
              onChange={() => setOthers('move')}
            />{' '}
            move them here
          </label>{' '}
          <label className="ml-2">
            <input
              type="radio"
              name="others"
              checked={others === 'keep'}
              onChange={() => setOthers('keep')}
            />{' '}
            keep them there
          </label>
        </fieldset>
      )}
      <div className="mt-2 max-h-[180px] overflow-auto" tabIndex={0} role="region" aria-label="Line by line">
        <ReadLines lines={linesOf(view)} />
        {view.lines.length > 200 && (
          <p className="text-ink3">
            The first 200 of {view.lines.length.toLocaleString('en-GB')} lines, the unknown ones first.
          </p>
        )}
      </div>
      <BeforeAfter changes={view.sample} total={will} />
      <NoticeNote notice={view.later} />
    </>
  );
}
