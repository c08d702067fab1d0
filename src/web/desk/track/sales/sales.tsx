import { useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { clearTests } from '../../../../contract/track/connection';
import { exportOrders, listOrders } from '../../../../contract/track/sales';
import { counted } from '../../../../core/text/counted';
import { isId } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { useAddress } from '../../../kit/address';
import { addressOf } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Column, Split } from '../../../kit/layout';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { Table } from '../../../kit/table';
import { useMay } from '../../roles';
import { saleColumns } from './columns';
import { filterIn, picturedIn } from './filter';
import { OrderSheet } from './order';
import { SalesSentence } from './sentence';
import { Unconfirmed } from './unconfirmed';

/** Sales: the list, and beside it the one that is open with its working. */
export default function Sales() {
  const { params, put } = useAddress();
  const { id: named = '' } = useParams();
  const id = isId(named, 'order') ? named : null;
  const navigate = useNavigate();
  const pictured = picturedIn(params);
  const filter = filterIn(params);
  const list = useList(listOrders, filter);
  const search = params.toString();
  const open = (to: string | null) =>
    void navigate(`/sales${to ? `/${to}` : ''}${search ? `?${search}` : ''}`);
  const name = filter.affiliate ? (list.rows[0]?.affiliate ?? 'one affiliate') : '';
  return (
    <Split>
      <Column aria-label="Sales">
        <Heading
          title="Sales"
          acts={
            <>
              {list.rows.some((r) => r.test) && <ClearTests />}
              {!pictured && <ListActs filter={filter} />}
            </>
          }
        >
          <SalesSentence params={params} put={(parts) => put(parts, { replace: true })} name={name} />
        </Heading>
        {pictured ? (
          <Unconfirmed state={pictured} />
        ) : (
          <SaleList list={list} id={id} open={open} narrowed={search !== ''} />
        )}
      </Column>
      {id && <OrderSheet id={id} onClose={() => open(null)} />}
    </Split>
  );
}

function ClearTests() {
  const may = useMay();
  const clear = useAct(clearTests, {
    done: (r) => toast(`${counted(r.cleared, 'test purchase')} cleared`),
  });
  if (!may(clearTests)) return null;
  return (
    <Button busy={clear.isPending} onClick={() => clear.mutate({})}>
      Clear test purchases
    </Button>
  );
}

function ListActs({ filter }: { filter: ReturnType<typeof filterIn> }) {
  return (
    <>
      <SearchField label="Order or affiliate" />
      <a
        className="rounded-sm border border-rule bg-sheet px-3 py-[5px] font-semibold hover:border-ink3"
        href={addressOf(exportOrders, {}, filter)}
        download
      >
        CSV
      </a>
    </>
  );
}

/** The sales; the keyboard takes the one that is open with it. */
function SaleList({
  list,
  id,
  open,
  narrowed,
}: {
  list: ReturnType<typeof useList<typeof listOrders>>;
  id: string | null;
  open: (id: string | null) => void;
  narrowed: boolean;
}) {
  const cursor = useCursor(list.rows, (r) => r.id, id);
  const step = (by: number) => {
    const next = cursor.move(by);
    if (next && id) open(next.id);
  };
  const keys = useKeys([
    { key: 'j', what: 'next sale', act: () => step(1) },
    { key: 'k', what: 'sale before', act: () => step(-1) },
    {
      key: 'Enter',
      what: 'open with its working',
      act: () => {
        if (cursor.row) open(cursor.row.id);
      },
    },
    { key: 'Escape', what: 'close', act: () => open(null) },
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Table
        label="Sales"
        rows={list.rows}
        idOf={(r) => r.id}
        at={id ?? cursor.at}
        onOpen={(r) => {
          cursor.setAt(r.id);
          open(r.id);
        }}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          <Empty title={narrowed ? 'No sale fits' : 'No sale yet'}>
            {narrowed
              ? 'Widen the filter above.'
              : 'Sales appear as soon as the shop reports them; the Connection page shows how.'}
          </Empty>
        }
        columns={saleColumns(id !== null)}
      />
      {keys}
    </>
  );
}
