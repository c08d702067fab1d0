import { useEffect, useRef, type RefObject } from 'react';
import { Link } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { type listApplications } from '../../../../contract/recruit/applications';
import { formatAge } from '../../../../core/calendar/format';
import { applicationStates } from '../../../../core/recruiting/states';
import { Choice } from '../../../kit/choice';
import { Apart, scrolling } from '../../../kit/layout';
import { Empty, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { Share } from '../../../kit/text';
import { useProductChoices } from '../../shared/products';
import type { QueueState } from './queue';

type Row = ReplyOf<typeof listApplications>['rows'][number];

/** The applications that fit the sentence, each with what tells them apart. */
export function Queue({ queue }: { queue: QueueState }) {
  const { list, shownId, selected, state } = queue;
  const rowAt = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    rowAt.current?.scrollIntoView({ block: 'nearest' });
  }, [shownId]);
  const open = state === 'waiting' || state === 'asked';
  return (
    <section className="flex w-[318px] shrink-0 flex-col border-r border-rule" aria-label="Applications">
      <QueueHead queue={queue} open={open} />
      <div
        className={scrolling}
        onScroll={(e) => {
          const el = e.currentTarget;
          if (list.onEnd && el.scrollTop + el.clientHeight > el.scrollHeight - 400) list.onEnd();
        }}
      >
        {list.rows.map((r) => (
          <QueueRow
            key={r.id}
            row={r}
            shown={r.id === shownId}
            rowAt={rowAt}
            tick={(selected.size > 0 || r.id === shownId) && open ? selected.has(r.id) : null}
            onTick={() => selected.toggle(r.id)}
            onOpen={() => queue.go(r.id)}
          />
        ))}
        {list.loading && <Skeleton lines={5} />}
        {!list.loading && list.rows.length === 0 && <Nobody state={state} />}
      </div>
    </section>
  );
}

function QueueHead({ queue, open }: { queue: QueueState; open: boolean }) {
  const { counts, address } = queue;
  const products = useProductChoices('all');
  return (
    <div className="border-b border-rule px-4 pt-3 pb-[10px]">
      <Apart>
        <h1>Applications</h1>
        <Link className="link" to="/applications/rules">
          Screening
        </Link>
      </Apart>
      <div className="mt-[3px] text-ink2">
        <Choice
          label="State"
          value={queue.state}
          options={applicationStates.map(
            (s) => [s, `${s[0]!.toUpperCase()}${s.slice(1)}${counts[s] ? ` (${counts[s]})` : ''}`] as const,
          )}
          onChange={(v) => address.set('state', v)}
        />{' '}
        for{' '}
        <Choice
          label="Product"
          value={queue.product ?? ''}
          options={[['', 'anything'], ...products]}
          onChange={(v) => address.set('product', v)}
        />
        , {open ? 'oldest' : 'newest'} first
      </div>
      <div className="mt-2">
        <SearchField label="Name, site or address" />
      </div>
    </div>
  );
}

interface RowProps {
  row: Row;
  shown: boolean;
  /** the row that is shown, to be scrolled to */
  rowAt: RefObject<HTMLButtonElement | null>;
  /** whether it is selected; null where nothing is selected here */
  tick: boolean | null;
  onTick: () => void;
  onOpen: () => void;
}

function QueueRow({ row, shown, rowAt, tick, onTick, onOpen }: RowProps) {
  return (
    <div
      className={`relative border-b border-rule2 ${shown ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
    >
      {tick !== null && (
        <input
          type="checkbox"
          aria-label={`Select ${row.name}`}
          checked={tick}
          onChange={onTick}
          className="absolute top-[11px] left-[7px] size-[11px] accent-copper"
        />
      )}
      <button
        type="button"
        ref={shown ? rowAt : undefined}
        aria-current={shown}
        onClick={onOpen}
        className="grid w-full grid-cols-[1fr_auto] gap-x-2 gap-y-px px-[22px] py-2 pr-4 text-left"
      >
        <RowWords row={row} />
      </button>
    </div>
  );
}

function RowWords({ row }: { row: Row }) {
  const { now } = useProgramme();
  return (
    <>
      <b className="private truncate font-semibold">{row.name}</b>
      <span className="text-right">{formatAge(row.createdAt, now)}</span>
      <span className="truncate text-[12px] text-ink3">
        {row.product ?? 'Whole programme'} · {row.country} · {row.cleared}
        {row.tenure && <span title="Tenure as an affiliate"> · {row.tenure}</span>}
        {row.vouched && <span className="text-verdigris"> · vouched for</span>}
      </span>
      <span className="text-right text-[12px] text-ink3">
        {row.standing !== null && <span title="Standing, of 100">{row.standing} · </span>}
        <Share ppm={row.refundRate} />
      </span>
      {row.remarks.length > 0 && (
        <span className="col-span-2 text-[12px] text-madder">{row.remarks.join(' · ')}</span>
      )}
    </>
  );
}

function Nobody({ state }: { state: string }) {
  return (
    <div className="p-4">
      <Empty title={state === 'waiting' ? 'Nobody is waiting' : `None ${state}`}>
        {state === 'waiting' && 'Applications from the join page arrive here. Its address is on Today.'}
      </Empty>
    </div>
  );
}
