import { useNavigate, useSearchParams } from 'react-router';
import { affiliateStates, listAffiliates } from '../../../contract/affiliates';
import { Choice } from '../../kit/choice';
import { useKeys } from '../../kit/keys';
import { useCursor, useList } from '../../kit/lists';
import { Empty, Failed, Heading } from '../../kit/place';
import { SearchField } from '../../kit/search';
import { State } from '../../kit/state';
import { Table } from '../../kit/table';
import { Code, Day, Money } from '../../kit/text';

type StateName = (typeof affiliateStates)[number];

export default function Affiliates() {
  const [params, setParams] = useSearchParams();
  const state = (params.get('state') ?? '') as StateName | '';
  const q = params.get('q') ?? '';
  const list = useList(listAffiliates, { ...(state ? { state } : {}), ...(q ? { q } : {}) });
  const navigate = useNavigate();
  const cursor = useCursor(list.rows, (r) => r.id);
  const open = (id: string) => void navigate(`/affiliates/${id}`);
  const keys = useKeys([
    { key: 'j', what: 'next affiliate', act: () => cursor.move(1) }, { key: 'k', what: 'affiliate before', act: () => cursor.move(-1) }, { key: 'Enter', what: 'open', act: () => { if (cursor.row) open(cursor.row.id); } },
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  const set = (value: string) => setParams((p) => { const next = new URLSearchParams(p); if (value) next.set('state', value); else next.delete('state'); return next; });
  return (
    <>
      <Heading title="Affiliates" acts={<SearchField label="Name, site or address" />}>
        <Choice label="State" value={state} options={[['', 'Everyone'], ...affiliateStates.map((s) => [s, `Those who are ${s}`] as const)]} onChange={set} /> by name{q && <>, with “{q}” in name, site or address</>}
      </Heading>
      <Table label="Affiliates" rows={list.rows} idOf={(r) => r.id} at={cursor.at} onOpen={(r) => open(r.id)} onEnd={list.onEnd} loading={list.loading}
        empty={<Empty title={q || state ? 'Nobody fits' : 'No affiliate yet'}>{q || state ? 'Try another part of the name or site, or everyone.' : 'People who apply on the join page appear here.'}</Empty>}
        columns={[
          { head: 'Name', cell: (r) => <><b className="font-semibold">{r.name}</b>{!r.promotes && <span className="text-ink3"> co-owner</span>}</> }, { head: 'Handle', cell: (r) => <Code>{r.handle}</Code>, width: '190px' }, { head: 'Country', cell: (r) => r.country, width: '70px' },
          { head: 'State', cell: (r) => <State is={r.state} />, width: '100px' }, { head: 'Paid', cell: (r) => (r.timing === 'at-sale' ? 'at sale' : 'after hold'), width: '90px' }, { head: 'Clicks, 90 d', cell: (r) => r.clicks90.toLocaleString('en-GB'), figure: true, width: '100px' },
          { head: 'Orders', cell: (r) => r.orders, figure: true, width: '70px' }, { head: 'Owed', cell: (r) => <Money of={r.owed} />, figure: true, width: '100px' }, { head: 'Paid out', cell: (r) => <Money of={r.paid} />, figure: true, width: '100px' }, { head: 'Since', cell: (r) => <Day at={r.joinedAt} />, figure: true, width: '110px' },
        ]} />
      {keys}
    </>
  );
}
