import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { createSet, listSets, type SetOut } from '../../../../contract/setup/sets';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { asking } from '../../../kit/asking';
import { Dialog, SubmitFoot } from '../../../kit/dialog';
import { useKeys } from '../../../kit/keys';
import { Labelled } from '../../../kit/labelled';
import { Blank, Split } from '../../../kit/layout';
import { Hint } from '../../../kit/note';
import { Empty, Failed, Skeleton } from '../../../kit/place';
import { SetList } from './set-list';
import { SetSheet } from './set-sheet';
import { about, readBy, words } from './set-words';

export const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

export default function Sets() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const sets = useQuery(asking(listSets));
  const [making, setMaking] = useState<SetOut['of'] | null>(null);
  const keys = useKeys([
    { key: 'Escape', what: 'back to the rate book', act: () => void navigate('/rates') },
  ]);
  if (sets.isPending) return <Skeleton />;
  if (sets.error) return <Failed fault={sets.error} retry={() => void sets.refetch()} />;
  const rows = sets.data.rows;
  const chosen = rows.find((s) => s.id === id) ?? null;
  return (
    <Split>
      <SetList rows={rows} id={id} onMake={setMaking} />
      {chosen ? (
        <SetSheet key={chosen.id} set={chosen} all={rows} />
      ) : (
        <Blank>
          <Empty title="Choose a card, a group or a tag">
            Its members, its settings and what rates it carries stand here. Rates themselves are set in the{' '}
            <Link className="link" to="/rates">
              rate book
            </Link>
            .
          </Empty>
        </Blank>
      )}
      {making && (
        <Making
          kind={making}
          onClose={() => setMaking(null)}
          onDone={(made) => {
            setMaking(null);
            void navigate(`/rates/sets/${made.id}`);
          }}
        />
      )}
      {keys}
    </Split>
  );
}

function Making({
  kind,
  onClose,
  onDone,
}: {
  kind: SetOut['of'];
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
    <Dialog open onClose={onClose} title={`New ${words[kind]}`} about={about[kind]}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          make.mutate(
            { body: { of: kind, name, about: text } },
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
            placeholder={kind === 'card' ? 'Makers' : kind === 'group' ? 'Studio circle' : 'launch help'}
            className={field}
          />
        </Labelled>
        <Hint className="mt-1">{readBy[kind]}</Hint>
        <Labelled className="mt-2">
          {kind === 'tag' ? 'Note' : 'Description'}
          <input maxLength={400} value={text} onChange={(e) => setText(e.target.value)} className={field} />
        </Labelled>
        {fault && (
          <p role="alert" className="mt-2 text-madder">
            {fault}
          </p>
        )}
        <SubmitFoot onLeave={onClose} busy={make.isPending}>
          Create
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
