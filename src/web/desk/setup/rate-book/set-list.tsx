import { type ReactNode } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { createSet, orderTags, type SetOut } from '../../../../contract/setup/sets';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Hint } from '../../../kit/note';
import { Heading } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import { useMay } from '../../roles';
import { about, heads, words } from './set-words';

/** Cards, groups and tags by kind; tags in the order in which they decide. */
export function SetList({
  rows,
  id,
  onMake,
}: {
  rows: SetOut[];
  id: string;
  onMake: (kind: SetOut['of']) => void;
}) {
  const may = useMay();
  const { day } = useProgramme();
  const order = useAct(orderTags, {
    done: (r) =>
      toast(
        r.from === null
          ? 'The order of tags holds from now on'
          : `Somebody would earn less by it: the new order of tags holds from ${day(r.from)}, after the notice`,
      ),
  });
  const tags = rows.filter((s) => s.of === 'tag').map((s) => s.id);
  const shift = (tag: Id<'set'>, by: number) => {
    const i = tags.indexOf(tag);
    const next = [...tags];
    next.splice(i, 1);
    next.splice(i + by, 0, tag);
    order.mutate({ body: { tags: next } });
  };
  return (
    <section
      className="w-[330px] shrink-0 overflow-auto border-r border-rule"
      tabIndex={0}
      aria-label="Cards, groups and tags"
    >
      <Heading title="Cards, groups, tags">
        <Link className="link" to="/rates">
          Rate book
        </Link>
      </Heading>
      {(['card', 'group', 'tag'] as const).map((kind) => (
        <div key={kind} className="mb-4">
          <div className="flex items-baseline justify-between px-5">
            <h2>{heads[kind]}</h2>
            {may(createSet) && (
              <Button look="bare" onClick={() => onMake(kind)}>
                New {words[kind]}
              </Button>
            )}
          </div>
          <Hint className="px-5 pb-1">{about[kind]}</Hint>
          <ul>
            {rows
              .filter((s) => s.of === kind)
              .map((s, i, list) => (
                <SetItem key={s.id} set={s} chosen={s.id === id}>
                  {kind === 'tag' && may(orderTags) && list.length > 1 && (
                    <Shift
                      name={s.name}
                      first={i === 0}
                      last={i === list.length - 1}
                      busy={order.isPending}
                      onShift={(by) => shift(s.id, by)}
                    />
                  )}
                </SetItem>
              ))}
            {rows.every((s) => s.of !== kind) && <li className="px-5 py-1 text-ink2">None yet.</li>}
          </ul>
        </div>
      ))}
    </section>
  );
}

function SetItem({ set, chosen, children }: { set: SetOut; chosen: boolean; children: ReactNode }) {
  return (
    <li
      className={`flex items-center gap-2 border-b border-rule2 px-5 py-[6px] ${chosen ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
    >
      {set.colour && <i aria-hidden className={`size-[9px] rounded-full tag-${set.colour}`} />}
      <Link to={`/rates/sets/${set.id}`} className="min-w-0 flex-1 truncate font-semibold">
        {set.name}
      </Link>
      {set.standard && <span className="text-ink3">newcomers</span>}
      {set.paused && <State is="paused" />}
      {children}
      <span className="w-12 text-right text-ink2">{set.members.toLocaleString('en-GB')}</span>
    </li>
  );
}

function Shift({
  name,
  first,
  last,
  busy,
  onShift,
}: {
  name: string;
  first: boolean;
  last: boolean;
  busy: boolean;
  onShift: (by: number) => void;
}) {
  return (
    <span className="flex">
      <Button
        look="bare"
        className="py-0!"
        aria-label={`${name} up`}
        disabled={first || busy}
        onClick={() => onShift(-1)}
      >
        ↑
      </Button>
      <Button
        look="bare"
        className="py-0!"
        aria-label={`${name} down`}
        disabled={last || busy}
        onClick={() => onShift(1)}
      >
        ↓
      </Button>
    </span>
  );
}
