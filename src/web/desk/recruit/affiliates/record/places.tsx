import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { type ReplyOf } from '../../../../../contract/endpoint';
import { listSets, previewPlaces, readPlaces, setPlaces } from '../../../../../contract/setup/sets';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { asking } from '../../../../kit/asking';
import { Button } from '../../../../kit/button';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { Pair } from '../../../../kit/layout';
import { useProgramme } from '../../../../kit/programme';
import { SelectField } from '../../../../kit/select';
import { Tick, Ticks } from '../../../../kit/ticks';
import { useMay } from '../../../roles';
import { BeforeAfter } from '../../../shared/before-after';
import { NoticeNote } from '../../../shared/notice';

type Places = ReplyOf<typeof readPlaces>;

/** Card, group and tags of an affiliate, with what a change of them would mean before it is made. */
export function PlacesOf({ id, name }: { id: Id<'affiliate'>; name: string }) {
  const may = useMay();
  const sets = useQuery(asking(listSets));
  const places = useQuery(asking(readPlaces, { params: { id } }));
  const [open, setOpen] = useState(false);
  if (!sets.data || !places.data) return <span className="text-ink3">…</span>;
  const named = (set: string | null) => {
    const s = sets.data.rows.find((r) => r.id === set);
    return s ? (
      <Link key={s.id} className="link" to={`/rates/sets/${s.id}`}>
        {s.name}
        {s.paused ? ', paused' : ''}
      </Link>
    ) : null;
  };
  const { card, group, tags } = places.data;
  return (
    <span>
      card {named(card) ?? '—'} · {group ? <>group {named(group)}</> : 'in no group'}
      {tags.length > 0 && (
        <>
          {' '}
          · tags{' '}
          {tags.map((t, i) => (
            <span key={t}>
              {i > 0 && ', '}
              {named(t)}
            </span>
          ))}
        </>
      )}
      {may(setPlaces) && (
        <>
          {' '}
          ·{' '}
          <button
            type="button"
            className="link"
            aria-label="change card, group and tags"
            onClick={() => setOpen(true)}
          >
            change
          </button>
        </>
      )}
      {open && (
        <Change
          id={id}
          name={name}
          begin={places.data}
          sets={sets.data.rows}
          onClose={() => setOpen(false)}
        />
      )}
    </span>
  );
}

/** What saving did, in words. */
function savedWords(
  name: string,
  { withdraws, later }: ReplyOf<typeof previewPlaces>,
  day: (at: number) => string,
): string {
  if (withdraws.length) return `${name}: withdrawn, ${withdraws.map((w) => w.says).join(', ')}`;
  return `${name}: changes take effect ${later ? `on ${day(later.from)}, after the notice` : 'now'}`;
}

/** What the button does: withdraws a move that waits, or changes now or after the notice. */
function actWords(view: ReplyOf<typeof previewPlaces> | null, day: (at: number) => string): string {
  if (view?.withdraws.length) return 'Withdraw the scheduled change';
  return view?.later ? `Change on ${day(view.later.from)}` : 'Change from now on';
}

/** The places that are sent: those that were changed, and those that stay though a move away from them is scheduled. */
function chosenPlaces(
  begin: Places,
  { card, group, tags }: { card: string; group: string; tags: readonly string[] },
  stays: readonly string[],
): object {
  const isChosen = (kind: string, differs: boolean) => differs || stays.includes(kind);
  return {
    ...(card && isChosen('card', card !== begin.card) ? { card } : {}),
    ...(isChosen('group', group !== (begin.group ?? '')) ? { group: group || null } : {}),
    ...(isChosen('tag', tags.join() !== begin.tags.join()) ? { tags } : {}),
  };
}

function Change({
  id,
  name,
  begin,
  sets,
  onClose,
}: {
  id: Id<'affiliate'>;
  name: string;
  begin: Places;
  sets: ReplyOf<typeof listSets>['rows'];
  onClose: () => void;
}) {
  const [card, setCard] = useState(begin.card ?? '');
  const [group, setGroup] = useState(begin.group ?? '');
  const [tags, setTags] = useState(begin.tags);
  const [stays, setStays] = useState<string[]>([]);
  const [view, setView] = useState<ReplyOf<typeof previewPlaces> | null>(null);
  const { day } = useProgramme();
  const { mutate: look } = useAct(previewPlaces, { done: setView });
  const save = useAct(setPlaces, {
    done: (r) => {
      onClose();
      toast(savedWords(name, r, day), {
        duration: 10_000,
        action: {
          label: 'Take back',
          onClick: () =>
            back.mutate({
              params: { id },
              body: {
                ...(begin.card ? { card: begin.card } : {}),
                group: begin.group,
                tags: begin.tags,
                coming: 'stop',
              },
            }),
        },
      });
    },
  });
  const back = useAct(setPlaces, { done: () => toast('Taken back') });
  // only what is chosen is sent: what is in force and chosen again withdraws what waits
  const key = JSON.stringify(chosenPlaces(begin, { card, group, tags }, stays));
  useEffect(() => {
    look({ params: { id }, body: JSON.parse(key) as object });
  }, [key, id, look]);
  const placesOf = (kind: string) => sets.filter((s) => s.of === kind);
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Card, group and tags of ${name}`}
      about={`${view?.later ? `From ${day(view.later.from)} on` : 'From now on'}. What is granted already keeps its terms.`}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate({ params: { id }, body: JSON.parse(key) as object });
        }}
      >
        <Pair>
          <SelectField
            label="Rate card"
            value={card}
            options={placesOf('card').map((s) => [s.id, s.name] as const)}
            onPick={setCard}
          />
          <SelectField
            label="Group"
            value={group}
            options={[
              ['', 'none'],
              ...placesOf('group').map((s) => [s.id, s.paused ? `${s.name}, paused` : s.name] as const),
            ]}
            onPick={setGroup}
          />
        </Pair>
        <Ticks
          className="mt-3"
          legend="Tags, which affiliates never see"
          options={placesOf('tag').map((s) => [s.id, s.name] as const)}
          ticked={tags}
          onChange={setTags}
        />
        {begin.waiting.map((w) => (
          <Tick
            key={`${w.of} ${w.to ?? ''} ${w.from}`}
            className="mt-2"
            on={stays.includes(w.of)}
            onChange={(on) => setStays(on ? [...stays, w.of] : stays.filter((kind) => kind !== w.of))}
          >
            Withdraw the scheduled change: {w.says}
          </Tick>
        ))}
        {view && <BeforeAfter changes={[view]} total={1} alone />}
        {view && <NoticeNote notice={view.later} alone />}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={save.isPending}>
            {actWords(view, day)}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
