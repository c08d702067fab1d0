import { useState } from 'react';
import { toast } from 'sonner';
import { type ReplyOf } from '../../../../../contract/endpoint';
import { removeSegment, saveSegment, type listSegments } from '../../../../../contract/recruit/roster';
import { type RosterFilter } from '../../../../../core/recruiting/roster';
import { useAct } from '../../../../kit/act';
import { Button } from '../../../../kit/button';
import { useMay } from '../../../roles';

type Segment = ReplyOf<typeof listSegments>['rows'][number];

const same = (a: object, b: object) =>
  JSON.stringify(Object.entries(a).sort()) === JSON.stringify(Object.entries(b).sort());

/** Filters that were saved by a name, and saving the one that is set. */
export function SegmentsBar({
  segments,
  filter,
  columns,
  onPick,
}: {
  segments: Segment[];
  filter: RosterFilter;
  columns: readonly string[];
  onPick: (s: Segment) => void;
}) {
  const may = useMay();
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState('');
  const back = useAct(removeSegment, { done: () => toast('It is back') });
  const remove = useAct(removeSegment);
  const save = useAct(saveSegment, {
    done: (s) => {
      setNaming(false);
      setName('');
      toast(`Saved as “${s.name}”`);
    },
  });
  const drop = (s: Segment) =>
    remove.mutate(
      { params: { id: s.id }, body: { on: true } },
      {
        onSuccess: () =>
          toast(`Segment “${s.name}” is removed; nobody in it is touched`, {
            duration: 10_000,
            action: {
              label: 'Undo',
              onClick: () => back.mutate({ params: { id: s.id }, body: { on: false } }),
            },
          }),
      },
    );
  const current = segments.find((s) => same(s.filter, filter));
  const taken = segments.find((s) => s.name.toLowerCase() === name.trim().toLowerCase());
  const narrowed = Object.keys(filter).length > 0;
  if (!segments.length && !narrowed) return null;
  return (
    <span className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[12px]">
      {segments.length > 0 && <span className="text-ink3">Segments</span>}
      {segments.map((s) => (
        <span key={s.id}>
          <button
            type="button"
            aria-pressed={s === current}
            className={s === current ? 'font-semibold text-ink' : 'link'}
            onClick={() => onPick(s)}
          >
            {s.name}
          </button>{' '}
          <span className="text-ink3">{s.count.toLocaleString('en-GB')}</span>
          {s === current && may(saveSegment) && (
            <button
              type="button"
              className="link ml-1"
              aria-label={`Remove the segment ${s.name}`}
              onClick={() => drop(s)}
            >
              remove
            </button>
          )}
        </span>
      ))}
      {narrowed &&
        !current &&
        may(saveSegment) &&
        (naming ? (
          <form
            className="flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              if (name.trim())
                save.mutate({
                  body: {
                    name,
                    filter,
                    columns: [...columns],
                    ...(taken ? { replaces: taken.version } : {}),
                  },
                });
            }}
          >
            <input
              autoFocus
              aria-label="Name of the segment"
              maxLength={60}
              value={name}
              onChange={(e) => setName(e.target.value)}
              placeholder="Teachers without a click"
              onKeyDown={(e) => {
                if (e.key === 'Escape') setNaming(false);
              }}
              className="rounded-sm border border-rule bg-sheet px-2"
            />
            <Button type="submit" className="py-px!" disabled={!name.trim()} busy={save.isPending}>
              {taken ? 'Replace' : 'Save'}
            </Button>
          </form>
        ) : (
          <button type="button" className="link" onClick={() => setNaming(true)}>
            save these as a segment
          </button>
        ))}
    </span>
  );
}
