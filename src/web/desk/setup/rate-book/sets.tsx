import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import {
  createSet,
  editSet,
  listSets,
  makeStandard,
  orderTags,
  pauseSet,
  restoreSet,
  type SetOut,
} from '../../../../contract/setup/sets';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { call, Refused } from '../../../kit/api';
import { useBegun, useFollow, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { faultInWords } from '../../../kit/keeper';
import { useKeys } from '../../../kit/keys';
import { Labelled } from '../../../kit/labelled';
import { Hint } from '../../../kit/note';
import { Empty, Failed, Heading, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import { useMay } from '../../roles';
import { Members } from './members';
import { Removal } from './removal';

const heads = { card: 'Rate cards', group: 'Groups', tag: 'Tags' } as const;
const words = { card: 'rate card', group: 'group', tag: 'tag' } as const;
/** Who can read the names: said where they are typed. */
const readBy = {
  card: 'Affiliates read the name and the description where they choose a card.',
  group: 'Affiliates of the group read its name and description.',
  tag: 'Only you read it: affiliates never see tags.',
} as const;
const about = {
  card: 'Everyone is on exactly one. Rung 4 of the ladder.',
  group: 'An affiliate is in one at most. Rung 3 of the ladder; a paused group is skipped.',
  tag: 'An affiliate can have many. Rung 2 of the ladder; of two that apply the upper decides.',
} as const;
const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

export default function Sets() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const may = useMay();
  const sets = useQuery({ queryKey: ['sets'], queryFn: () => call(listSets) });
  const [making, setMaking] = useState<SetOut['of'] | null>(null);
  const { day } = useProgramme();
  const order = useAct(orderTags, {
    done: (r) =>
      toast(
        r.from === null
          ? 'The order of tags holds from now on'
          : `Somebody would earn less by it: the new order of tags holds from ${day(r.from)}, after the notice`,
      ),
  });
  const keys = useKeys([
    { key: 'Escape', what: 'back to the rate book', act: () => void navigate('/rates') },
  ]);
  if (sets.isPending) return <Skeleton />;
  if (sets.error) return <Failed fault={sets.error} retry={() => void sets.refetch()} />;
  const rows = sets.data.rows;
  const chosen = rows.find((s) => s.id === id) ?? null;
  const tags = rows.filter((s) => s.of === 'tag').map((s) => s.id);
  const shift = (tag: string, by: number) => {
    const i = tags.indexOf(tag);
    const next = [...tags];
    next.splice(i, 1);
    next.splice(i + by, 0, tag);
    order.mutate({ body: { tags: next } });
  };
  return (
    <div className="flex min-h-0 flex-1">
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
        {(['card', 'group', 'tag'] as const).map((of) => (
          <div key={of} className="mb-4">
            <div className="flex items-baseline justify-between px-5">
              <h2>{heads[of]}</h2>
              {may(createSet) && (
                <Button look="bare" onClick={() => setMaking(of)}>
                  New {words[of]}
                </Button>
              )}
            </div>
            <Hint className="px-5 pb-1">{about[of]}</Hint>
            <ul>
              {rows
                .filter((s) => s.of === of)
                .map((s, i, list) => (
                  <li
                    key={s.id}
                    className={`flex items-center gap-2 border-b border-rule2 px-5 py-[6px] ${s.id === id ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
                  >
                    {s.colour && <i aria-hidden className={`size-[9px] rounded-full tag-${s.colour}`} />}
                    <Link to={`/rates/sets/${s.id}`} className="min-w-0 flex-1 truncate font-semibold">
                      {s.name}
                    </Link>
                    {s.standard && <span className="text-ink3">newcomers</span>}
                    {s.paused && <State is="paused" />}
                    {of === 'tag' && may(orderTags) && list.length > 1 && (
                      <span className="flex">
                        <Button
                          look="bare"
                          className="py-0!"
                          aria-label={`${s.name} up`}
                          disabled={i === 0 || order.isPending}
                          onClick={() => shift(s.id, -1)}
                        >
                          ↑
                        </Button>
                        <Button
                          look="bare"
                          className="py-0!"
                          aria-label={`${s.name} down`}
                          disabled={i === list.length - 1 || order.isPending}
                          onClick={() => shift(s.id, 1)}
                        >
                          ↓
                        </Button>
                      </span>
                    )}
                    <span className="w-12 text-right text-ink2">{s.members.toLocaleString('en-GB')}</span>
                  </li>
                ))}
              {rows.every((s) => s.of !== of) && <li className="px-5 py-1 text-ink2">None yet.</li>}
            </ul>
          </div>
        ))}
      </section>
      {chosen ? (
        <Sheet key={chosen.id} set={chosen} all={rows} />
      ) : (
        <div className="flex-1 bg-sheet p-6">
          <Empty title="Choose a card, a group or a tag">
            Its members, its settings and what rates it carries stand here. Rates themselves are set in the{' '}
            <Link className="link" to="/rates">
              rate book
            </Link>
            .
          </Empty>
        </div>
      )}
      {making && (
        <Making
          of={making}
          onClose={() => setMaking(null)}
          onDone={(made) => {
            setMaking(null);
            void navigate(`/rates/sets/${made.id}`);
          }}
        />
      )}
      {keys}
    </div>
  );
}

function Making({
  of,
  onClose,
  onDone,
}: {
  of: SetOut['of'];
  onClose: () => void;
  onDone: (made: SetOut) => void;
}) {
  const [name, setName] = useState('');
  const [text, setText] = useState('');
  const [fault, setFault] = useState('');
  const make = useAct(createSet, {
    quiet: true,
    done: (s) => {
      toast(`${s.name} is there, without members`);
      onDone(s);
    },
  });
  return (
    <Dialog open onClose={onClose} title={`New ${words[of]}`} about={about[of]}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          make.mutate(
            { body: { of, name, about: text } },
            {
              onError: (x) =>
                setFault(
                  x instanceof Refused
                    ? x.problem.detail
                    : 'Something went wrong in this page; what you typed is kept.',
                ),
            },
          );
        }}
      >
        <Labelled>
          Name
          <input
            autoFocus
            required
            maxLength={60}
            value={name}
            onChange={(e) => setName(e.target.value)}
            placeholder={of === 'card' ? 'Makers' : of === 'group' ? 'Studio circle' : 'launch help'}
            className={field}
          />
        </Labelled>
        <Hint className="mt-1">{readBy[of]}</Hint>
        <Labelled className="mt-2">
          {of === 'tag' ? 'Note' : 'Description'}
          <input maxLength={400} value={text} onChange={(e) => setText(e.target.value)} className={field} />
        </Labelled>
        {fault && (
          <p role="alert" className="mt-2 text-madder">
            {fault}
          </p>
        )}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={make.isPending}>
            Create
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

interface SetFields extends Record<string, unknown> {
  name: string;
  about: string;
  openJoin: boolean;
  openChange: boolean;
  colour: 'copper' | '';
}
const fieldsOf = (s: SetOut): SetFields => ({
  name: s.name,
  about: s.about,
  openJoin: s.openJoin,
  openChange: s.openChange,
  colour: s.colour as SetFields['colour'],
});
const titles: Record<string, string> = {
  name: 'Name',
  about: 'Description',
  openJoin: 'May be chosen at sign-up',
  openChange: 'May be changed to later',
  colour: 'Colour',
};

function Sheet({ set, all }: { set: SetOut; all: SetOut[] }) {
  const may = useMay();
  const navigate = useNavigate();
  const now: Begun<SetFields> = { values: fieldsOf(set), version: set.version };
  const base = useBegun<SetFields>(now, (of) => titles[of] ?? of);
  const [typed, setTyped] = useState(base.begun.values);
  const put = (of: string, value: unknown) => setTyped((all) => ({ ...all, [of]: value }));
  const { name, about: text, colour } = typed;
  const open = { openJoin: typed.openJoin, openChange: typed.openChange };
  const [removing, setRemoving] = useState(false);
  const save = useAct(editSet, {
    done: (s) => {
      base.restart({ values: fieldsOf(s), version: s.version });
      setTyped(fieldsOf(s));
      toast('Saved');
    },
    failed: (f) => {
      if (
        !base.overtake(
          f,
          (current) => ({ values: fieldsOf(current as SetOut), version: (current as SetOut).version }),
          typed,
          put,
        )
      )
        toast.error(faultInWords(f));
    },
  });
  const pause = useAct(pauseSet, {
    done: (s) => toast(s.paused ? `${s.name} is paused: its rates are skipped` : `${s.name} runs again`),
  });
  const standard = useAct(makeStandard, {
    done: (s) => toast(`Newcomers begin on ${s.name}; nobody else’s card changes`),
  });
  const restore = useAct(restoreSet, {
    done: (s) => {
      toast(`${s.name} is back`);
      void navigate(`/rates/sets/${s.id}`);
    },
  });
  const mayEdit = may(editSet);
  const dirty = JSON.stringify(typed) !== JSON.stringify(base.begun.values);
  useFollow(!dirty && set.version > base.begun.version, () => {
    base.restart(now);
    setTyped(now.values);
  });
  const gone = () => {
    setRemoving(false);
    void navigate('/rates/sets');
    toast(`${set.name} is removed`, {
      duration: 10_000,
      action: { label: 'Take back', onClick: () => restore.mutate({ params: { id: set.id } }) },
    });
  };
  return (
    <>
      <section className="flex min-w-0 flex-1 flex-col bg-sheet" aria-label={set.name}>
        <Heading title={set.name} acts={set.paused ? <State is="paused" /> : undefined}>
          {counted(set.members, 'affiliate')} · {set.rates} {set.rates === 1 ? 'rate' : 'rates'}
        </Heading>
        <Members set={set} />
      </section>
      <Margin width="w-[280px]">
        <h2>Settings</h2>
        <form
          className="mt-1 space-y-3"
          onSubmit={(e) => {
            e.preventDefault();
            save.mutate({
              params: { id: set.id },
              body: {
                name,
                about: text,
                ...(set.of === 'tag' ? { colour } : {}),
                ...(set.of === 'card' ? open : {}),
                version: base.begun.version,
              },
            });
          }}
        >
          {base.note(put)}
          <Labelled>
            Name
            <input
              required
              maxLength={60}
              disabled={!mayEdit}
              value={name}
              onChange={(e) => put('name', e.target.value)}
              className={field}
            />
          </Labelled>
          <Hint className="-mt-2">{readBy[set.of]}</Hint>
          <Labelled>
            {set.of === 'tag' ? 'Note' : 'Description'}
            <textarea
              rows={2}
              maxLength={400}
              disabled={!mayEdit}
              value={text}
              onChange={(e) => put('about', e.target.value)}
              className={field}
            />
          </Labelled>
          {set.of === 'tag' && (
            <Labelled>
              Colour
              <select
                disabled={!mayEdit}
                value={colour}
                onChange={(e) => put('colour', e.target.value)}
                className={field}
              >
                {['', 'copper', 'verdigris', 'madder', 'ochre', 'slate'].map((c) => (
                  <option key={c} value={c}>
                    {c || 'none'}
                  </option>
                ))}
              </select>
            </Labelled>
          )}
          {set.of === 'card' && (
            <>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  disabled={!mayEdit}
                  checked={open.openJoin}
                  onChange={(e) => put('openJoin', e.target.checked)}
                />{' '}
                May be chosen at sign-up
              </label>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  disabled={!mayEdit}
                  checked={open.openChange}
                  onChange={(e) => put('openChange', e.target.checked)}
                />{' '}
                May be changed to later, from the next day
              </label>
            </>
          )}
          {mayEdit && dirty && (
            <Button type="submit" look="main" busy={save.isPending}>
              Save
            </Button>
          )}
        </form>
        {set.ignoredBy.length > 0 && (
          <p className="mt-4 border-l-[3px] border-slate bg-slate-wash px-3 py-2">
            Ignored by {set.ignoredBy.join(', ')}: locked, so that they keep their own terms.
          </p>
        )}
        {mayEdit && (
          <div className="mt-5 flex flex-wrap gap-2">
            {set.of === 'group' && (
              <Button
                busy={pause.isPending}
                onClick={() => pause.mutate({ params: { id: set.id }, body: { on: !set.paused } })}
              >
                {set.paused ? 'Resume' : 'Pause'}
              </Button>
            )}
            {set.of === 'card' && !set.standard && (
              <Button busy={standard.isPending} onClick={() => standard.mutate({ params: { id: set.id } })}>
                Newcomers begin here
              </Button>
            )}
            {!set.standard && (
              <Button look="danger" onClick={() => setRemoving(true)}>
                Remove…
              </Button>
            )}
          </div>
        )}
      </Margin>
      {removing && (
        <Removal
          set={set}
          cards={all.filter((s) => s.of === 'card' && s.id !== set.id)}
          onClose={() => setRemoving(false)}
          onDone={gone}
        />
      )}
    </>
  );
}
