import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { listInvites, withdrawInvite } from '../../../../contract/recruit/prospects';
import { inviteStates } from '../../../../core/recruiting/lists';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Day, Name } from '../../../kit/text';
import { useMay } from '../../roles';

type StateName = (typeof inviteStates)[number];
const wordOf: Partial<Record<StateName, string>> = { waiting: 'on its way' };

/** Every invitation with what came of it. */
export default function Invitations() {
  const [params, setParams] = useSearchParams();
  const state = (params.get('state') ?? '') as StateName | '';
  const may = useMay();
  const navigate = useNavigate();
  const list = useList(listInvites, state ? { state } : {});
  const counts = (list.first as ReplyOf<typeof listInvites> | undefined)?.counts ?? {};
  const cursor = useCursor(list.rows, (r) => r.id);
  const withdraw = useAct(withdrawInvite, {
    done: (i) => toast(`The invitation of ${i.name} is taken back`),
  });
  const open = (id: string) => void navigate(`/prospects/${id}`);
  const keys = useKeys([
    { key: 'j', what: 'next', act: () => cursor.move(1) },
    { key: 'k', what: 'one before', act: () => cursor.move(-1) },
    {
      key: 'Enter',
      what: 'open the partner',
      act: () => {
        if (cursor.row) open(cursor.row.prospect);
      },
    },
    { key: 'Escape', what: 'back to the prospects', act: () => void navigate('/prospects') },
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Heading title="Invitations">
        <Choice
          label="State"
          value={state}
          options={[
            ['', 'All'],
            ...inviteStates.map(
              (s) => [s, `${wordOf[s] ?? s}${counts[s] ? ` (${counts[s]})` : ''}`] as const,
            ),
          ]}
          onChange={(v) => setParams(v ? { state: v } : {})}
        />
        , newest first. Answers come from the registry by themselves.
      </Heading>
      <Table
        label="Invitations"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={(r) => open(r.prospect)}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={<Empty title="No invitation">Choose partners among the prospects and invite them.</Empty>}
        columns={[
          { head: 'Partner', cell: (r) => <Name>{r.name}</Name> },
          { head: 'Sent', cell: (r) => <Day at={r.at} />, width: '110px' },
          { head: 'By', cell: (r) => r.by, width: '130px' },
          {
            head: 'With',
            cell: (r) => (
              <span className="text-ink2">
                {[r.card, r.group, ...r.tags, r.product].filter(Boolean).join(', ') || '—'}
              </span>
            ),
          },
          {
            head: 'State',
            cell: (r) => (
              <>
                <State is={r.state} word={wordOf[r.state]} />
                {r.fault && <span className="text-ochre"> {r.fault}</span>}
              </>
            ),
            width: '230px',
          },
          { head: 'Since', cell: (r) => <Day at={r.stateAt} />, figure: true, width: '110px' },
          {
            head: '',
            width: '90px',
            cell: (r) =>
              r.state === 'waiting' && may(withdrawInvite) ? (
                <Button
                  look="bare"
                  aria-label={`Take back the invitation of ${r.name}`}
                  onClick={(e) => {
                    e.stopPropagation();
                    withdraw.mutate({ params: { id: r.id } });
                  }}
                >
                  Take back
                </Button>
              ) : null,
          },
        ]}
      />
      {keys}
    </>
  );
}
