import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { editSet, makeStandard, pauseSet, restoreSet, type SetOut } from '../../../../contract/setup/sets';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { useBegun, useFollow, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { TextArea, TextLine } from '../../../kit/inputs';
import { faultInWords } from '../../../kit/keeper';
import { Labelled } from '../../../kit/labelled';
import { Hint } from '../../../kit/note';
import { Heading, Margin } from '../../../kit/place';
import { SelectField } from '../../../kit/select';
import { State } from '../../../kit/state';
import { Tick } from '../../../kit/ticks';
import { useMay } from '../../roles';
import { Members } from './members';
import { Removal } from './removal';
import { readBy } from './set-words';

interface SetFields extends Record<string, unknown> {
  name: string;
  about: string;
  openJoin: boolean;
  openChange: boolean;
  colour: (typeof colours)[number];
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

/** What is typed of a set, set beside what others saved meanwhile; and saving it. */
function useSetForm(set: SetOut) {
  const now: Begun<SetFields> = { values: fieldsOf(set), version: set.version };
  const base = useBegun<SetFields>(now, (field) => titles[field] ?? field);
  const [typed, setTyped] = useState(base.begun.values);
  const put = (field: string, value: unknown) => setTyped((all) => ({ ...all, [field]: value }));
  const restart = (from: Begun<SetFields>) => {
    base.restart(from);
    setTyped(from.values);
  };
  const save = useAct(editSet, {
    done: (s) => {
      restart({ values: fieldsOf(s), version: s.version });
      toast('Saved');
    },
    failed: (f) => {
      if (!base.overtake(f, read, typed, put)) toast.error(faultInWords(f));
    },
  });
  const dirty = JSON.stringify(typed) !== JSON.stringify(base.begun.values);
  useFollow(!dirty && set.version > base.begun.version, () => restart(now));
  const { name, about: text, colour, openJoin, openChange } = typed;
  const send = () =>
    save.mutate({
      params: { id: set.id },
      body: {
        name,
        about: text,
        ...(set.of === 'tag' ? { colour } : {}),
        ...(set.of === 'card' ? { openJoin, openChange } : {}),
        version: base.begun.version,
      },
    });
  return { typed, put, dirty, send, busy: save.isPending, note: base.note(put) };
}

const read = (current: unknown): Begun<SetFields> => ({
  values: fieldsOf(current as SetOut),
  version: (current as SetOut).version,
});

/** One card, group or tag: its members, its settings and what can be done with it. */
export function SetSheet({ set, all }: { set: SetOut; all: SetOut[] }) {
  const may = useMay();
  const navigate = useNavigate();
  const [removing, setRemoving] = useState(false);
  const restore = useAct(restoreSet, {
    done: (s) => {
      toast(`${s.name} is back`);
      void navigate(`/rates/sets/${s.id}`);
    },
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
          {counted(set.members, 'affiliate')} · {counted(set.rates, 'rate')}
        </Heading>
        <Members set={set} />
      </section>
      <Margin width="w-[280px]">
        <h2>Settings</h2>
        <SetForm set={set} mayEdit={may(editSet)} />
        {set.ignoredBy.length > 0 && (
          <p className="mt-4 border-l-[3px] border-slate bg-slate-wash px-3 py-2">
            Ignored by {set.ignoredBy.join(', ')}: locked, so that they keep their own terms.
          </p>
        )}
        <SetActs mayEdit={may(editSet)} set={set} setRemoving={setRemoving} />
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

const colours = ['', 'copper', 'verdigris', 'madder', 'ochre', 'slate'] as const;

function SetForm({ set, mayEdit }: { set: SetOut; mayEdit: boolean }) {
  const { typed, put, dirty, send, busy, note } = useSetForm(set);
  return (
    <form
      className="mt-1 space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      {note}
      <Labelled>
        Name
        <TextLine
          required
          maxLength={60}
          disabled={!mayEdit}
          value={typed.name}
          onText={(name) => put('name', name)}
          className="mt-1"
        />
      </Labelled>
      <Hint className="-mt-2">{readBy[set.of]}</Hint>
      <Labelled>
        {set.of === 'tag' ? 'Note' : 'Description'}
        <TextArea
          rows={2}
          maxLength={400}
          disabled={!mayEdit}
          value={typed.about}
          onText={(text) => put('about', text)}
          className="mt-1"
        />
      </Labelled>
      {set.of === 'tag' && (
        <SelectField
          label="Colour"
          disabled={!mayEdit}
          value={typed.colour}
          options={colours.map((c) => [c, c || 'none'] as const)}
          onPick={(colour) => put('colour', colour)}
        />
      )}
      {set.of === 'card' && (
        <>
          <Tick on={typed.openJoin} disabled={!mayEdit} onChange={(on) => put('openJoin', on)}>
            May be chosen at sign-up
          </Tick>
          <Tick on={typed.openChange} disabled={!mayEdit} onChange={(on) => put('openChange', on)}>
            May be changed to later, from the next day
          </Tick>
        </>
      )}
      {mayEdit && dirty && (
        <Button type="submit" look="main" busy={busy}>
          Save
        </Button>
      )}
    </form>
  );
}

/** Pausing, where newcomers begin, and removing. */
function SetActs({
  mayEdit,
  set,
  setRemoving,
}: {
  mayEdit: boolean;
  set: SetOut;
  setRemoving: React.Dispatch<React.SetStateAction<boolean>>;
}) {
  const pause = useAct(pauseSet, {
    done: (s) => toast(s.paused ? `${s.name} is paused: its rates are skipped` : `${s.name} runs again`),
  });
  const standard = useAct(makeStandard, {
    done: (s) => toast(`Newcomers begin on ${s.name}; nobody else’s card changes`),
  });
  if (!mayEdit) return null;
  return (
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
  );
}
