import { useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { clearTests } from '../../../../contract/track/connection';
import { exportOrders, listOrders } from '../../../../contract/track/sales';
import { useAct } from '../../../kit/act';
import { addressOf } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Day, Moment, Money } from '../../../kit/text';
import { useMay } from '../../roles';
import { OrderSheet } from './order';
import { Period } from './period';
import { Unconfirmed, type PicturedState } from './unconfirmed';

type Row = ReplyOf<typeof listOrders>['rows'][number];

/** Sales: the list, and beside it the one that is open with its working. */
export default function Sales() {
  const [params, setParams] = useSearchParams();
  const { id } = useParams();
  const navigate = useNavigate();
  const get = (key: string) => params.get(key) ?? '';
  const pictured = get('unconfirmed') !== '';
  const filter = {
    ...(get('q') ? { q: get('q') } : {}),
    ...(get('affiliate') ? { affiliate: get('affiliate') } : {}),
    ...(get('credited') ? { credited: get('credited') as 'yes' | 'no' } : {}),
    ...(get('from') ? { from: get('from') } : {}),
    ...(get('to') ? { to: get('to') } : {}),
  };
  const list = useList(listOrders, filter);
  const cursor = useCursor(list.rows, (r) => r.id, id ?? null);
  const may = useMay();
  const clear = useAct(clearTests, {
    done: (r) => toast(`${r.cleared} test ${r.cleared === 1 ? 'purchase' : 'purchases'} cleared`),
  });
  const search = params.toString();
  const open = (to: string | null) =>
    void navigate(`/sales${to ? `/${to}` : ''}${search ? `?${search}` : ''}`);
  const step = (by: number) => {
    const next = cursor.move(by);
    if (next && id) open(next.id);
  };
  const keys = useKeys(
    pictured
      ? []
      : [
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
        ],
  );
  const set = (key: string, value: string) =>
    setParams(
      (p) => {
        const next = new URLSearchParams(p);
        if (value) next.set(key, value);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  const picturedState = (
    ['reported', 'confirmed', 'set-aside'].includes(get('unconfirmed')) ? get('unconfirmed') : 'open'
  ) as PicturedState;
  const show = (v: string) =>
    setParams(
      (p) => {
        const next = new URLSearchParams(p);
        next.delete('credited');
        next.delete('unconfirmed');
        if (v === 'unconfirmed') next.set(v, '1');
        else if (v) next.set('credited', v);
        return next;
      },
      { replace: true },
    );
  const name = get('affiliate') ? (list.rows[0]?.affiliate ?? 'one affiliate') : '';
  return (
    <div className="flex min-h-0 flex-1">
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Sales">
        <Heading
          title="Sales"
          acts={
            <>
              {list.rows.some((r) => r.test) && may(clearTests) && (
                <Button busy={clear.isPending} onClick={() => clear.mutate({})}>
                  Clear test purchases
                </Button>
              )}
              {!pictured && (
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
              )}
            </>
          }
        >
          <Choice
            label="Credited"
            value={pictured ? 'unconfirmed' : get('credited')}
            options={[
              ['', 'All sales'],
              ['yes', 'Sales credited to an affiliate'],
              ['no', 'Sales that nobody is credited for'],
              ['unconfirmed', 'Unconfirmed sales, known by a picture alone'],
            ]}
            onChange={show}
          />
          {name && (
            <>
              {' '}
              of{' '}
              <button
                type="button"
                className="link"
                onClick={() => set('affiliate', '')}
                title="Show everyone’s"
              >
                {name} ×
              </button>
            </>
          )}
          {pictured && (
            <>
              ,{' '}
              <Choice
                label="State"
                value={picturedState}
                options={[
                  ['open', 'waiting'],
                  ['reported', 'reported since'],
                  ['confirmed', 'confirmed by a person'],
                  ['set-aside', 'set aside'],
                ]}
                onChange={(v) => set('unconfirmed', v === 'open' ? '1' : v)}
              />
            </>
          )}
          {!pictured && (
            <>
              ,{' '}
              <Period
                from={get('from')}
                to={get('to')}
                onChange={(from, to) =>
                  setParams(
                    (p) => {
                      const next = new URLSearchParams(p);
                      for (const [k, v] of [
                        ['from', from],
                        ['to', to],
                      ] as const)
                        if (v) next.set(k, v);
                        else next.delete(k);
                      return next;
                    },
                    { replace: true },
                  )
                }
              />
            </>
          )}
          , newest first
        </Heading>
        {pictured ? (
          <Unconfirmed state={picturedState} />
        ) : list.failed ? (
          <Failed fault={list.failed} retry={list.again} />
        ) : (
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
              <Empty title={search ? 'No sale fits' : 'No sale yet'}>
                {search
                  ? 'Widen the filter above.'
                  : 'Sales appear as soon as the shop reports them; the Connection page shows how.'}
              </Empty>
            }
            columns={[
              {
                head: 'Placed',
                cell: (r) => (id ? <Day at={r.placedAt} /> : <Moment at={r.placedAt} />),
                width: id ? '100px' : '150px',
              },
              {
                head: 'Order',
                cell: (r) => (
                  <>
                    {r.event === 'click' ? 'clicks' : <Code>{r.reference}</Code>}
                    {r.event === 'renewal' && <span className="text-ink3"> no. {r.number}</span>}
                    {r.event === 'lead' && <span className="text-ink3"> lead</span>}
                    {r.event === 'click' && !id && <span className="text-ink3"> of the day</span>}
                  </>
                ),
                width: '120px',
              },
              {
                head: 'Product',
                cell: (r) =>
                  id ? (
                    <span className="block max-w-[130px] truncate" title={r.products}>
                      {r.products}
                    </span>
                  ) : (
                    r.products
                  ),
              },
              {
                head: 'Affiliate',
                cell: (r) =>
                  (r.affiliate ? <span className="private">{r.affiliate}</span> : null) ?? (
                    <span className="text-ink3">nobody</span>
                  ),
              },
              // the open sale shows its value; without the column the state is not cut off
              ...(id
                ? []
                : [
                    { head: 'Value', cell: (r: Row) => <Money of={r.value} />, figure: true, width: '100px' },
                  ]),
              { head: 'Commission', cell: (r) => <Money of={r.commission} />, figure: true, width: '95px' },
              {
                head: 'State',
                cell: (r) =>
                  r.test ? 'test' : r.state ? <State is={r.state} /> : <span className="text-ink3">—</span>,
                width: '100px',
              },
            ]}
          />
        )}
      </section>
      {id && <OrderSheet id={id} onClose={() => open(null)} />}
      {keys}
    </div>
  );
}
