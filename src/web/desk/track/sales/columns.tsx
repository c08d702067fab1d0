import type { ReplyOf } from '../../../../contract/endpoint';
import type { listOrders } from '../../../../contract/track/sales';
import { State } from '../../../kit/state';
import type { Column } from '../../../kit/table';
import { Code, Day, Moment, Money } from '../../../kit/text';

export type Sale = ReplyOf<typeof listOrders>['rows'][number];

/** The columns of the sales. @param narrow true while one of them is open beside the list */
export const saleColumns = (narrow: boolean): Column<Sale>[] => [
  {
    head: 'Placed',
    cell: (r) => (narrow ? <Day at={r.placedAt} /> : <Moment at={r.placedAt} />),
    width: narrow ? '100px' : '150px',
  },
  {
    head: 'Order',
    cell: (r) => (
      <>
        {r.event === 'click' ? 'clicks' : <Code>{r.reference}</Code>}
        {r.event === 'renewal' && <span className="text-ink3"> no. {r.number}</span>}
        {r.event === 'lead' && <span className="text-ink3"> lead</span>}
        {r.event === 'click' && !narrow && <span className="text-ink3"> of the day</span>}
      </>
    ),
    width: '120px',
  },
  {
    head: 'Product',
    cell: (r) =>
      narrow ? (
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
  ...(narrow
    ? []
    : [{ head: 'Value', cell: (r: Sale) => <Money value={r.value} />, figure: true, width: '100px' }]),
  { head: 'Commission', cell: (r) => <Money value={r.commission} />, figure: true, width: '95px' },
  {
    head: 'State',
    cell: (r) => (r.test ? 'test' : r.state ? <State is={r.state} /> : <span className="text-ink3">—</span>),
    width: '100px',
  },
];
