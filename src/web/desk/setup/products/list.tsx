import { Link, useNavigate, useSearchParams } from 'react-router';
import { createProduct, listProducts } from '../../../../contract/setup/products';
import { productStates } from '../../../../core/pricing/lists';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Money } from '../../../kit/text';
import { useMay } from '../../roles';

type StateName = (typeof productStates)[number];

export default function Products() {
  const [params, setParams] = useSearchParams();
  const state = (params.get('state') ?? '') as StateName | '';
  const list = useList(listProducts, state ? { state } : {});
  const navigate = useNavigate();
  const may = useMay();
  const cursor = useCursor(list.rows, (r) => r.id);
  const open = (id: string) => void navigate(`/products/${id}`);
  const keys = useKeys([
    { key: 'j', what: 'next product', act: () => cursor.move(1) },
    { key: 'k', what: 'product before', act: () => cursor.move(-1) },
    {
      key: 'Enter',
      what: 'open',
      act: () => {
        if (cursor.row) open(cursor.row.id);
      },
    },
    ...(may(createProduct) ? [{ key: 'n', what: 'new product', act: () => open('new') }] : []),
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Heading
        title="Products"
        acts={
          <>
            <Link className="link-level" to="/products/funnels">
              Funnels
            </Link>
            {may(createProduct) && (
              <Button look="main" keyName="N" onClick={() => open('new')}>
                New product
              </Button>
            )}
          </>
        }
      >
        <Choice
          label="State"
          value={state}
          options={[['', 'Every product'], ...productStates.map((s) => [s, `Those that are ${s}`] as const)]}
          onChange={(v) => setParams(v ? { state: v } : {})}
        />{' '}
        by name, with what everyone earns
      </Heading>
      <Table
        label="Products"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={(r) => open(r.id)}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          <Empty title="No product yet">
            A product is what a sale is reported for: a code, a price, a refund window and what it pays.{' '}
            {may(createProduct) && (
              <button type="button" className="link" onClick={() => open('new')}>
                Describe the first one
              </button>
            )}
          </Empty>
        }
        columns={[
          { head: 'Code', cell: (r) => <Code>{r.code}</Code>, width: '150px' },
          { head: 'Name', cell: (r) => <b className="font-semibold">{r.name}</b> },
          { head: 'Kind', cell: (r) => <span className="text-ink2">{r.kind}</span>, width: '100px' },
          { head: 'State', cell: (r) => <State is={r.state} />, width: '100px' },
          { head: 'Price', cell: (r) => <Money value={r.price} />, figure: true, width: '110px' },
          {
            head: 'Commission',
            cell: (r) => <span className="private">{r.rewardText}</span>,
            figure: true,
            width: '150px',
          },
          { head: 'Refund window', cell: (r) => `${r.refundDays} d`, figure: true, width: '120px' },
          {
            head: 'Orders, 30 days',
            cell: (r) => r.orders30.toLocaleString('en-GB'),
            figure: true,
            width: '130px',
          },
        ]}
      />
      {keys}
    </>
  );
}
