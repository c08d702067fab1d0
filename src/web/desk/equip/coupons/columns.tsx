import type { CouponOut } from '../../../../contract/equip/coupons';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import type { Column } from '../../../kit/table';
import { Code } from '../../../kit/text';
import { shopLooks, shopWords } from './words';

/** The columns of the coupons. */
export const couponColumns: Column<CouponOut>[] = [
  { head: 'Code', cell: (r) => <Code>{r.code}</Code>, width: '112px' },
  { head: 'The buyer gets', cell: (r) => r.says },
  {
    head: 'For',
    cell: (r) => <span className="private">{r.ownerName === null ? r.forWhom : `${r.ownerName}’s own`}</span>,
    width: '150px',
  },
  { head: 'In the shop', cell: (r) => <InShop coupon={r} />, width: '150px' },
  { head: 'Orders', cell: (r) => r.results.orders.toLocaleString('en-GB'), figure: true, width: '60px' },
  { head: 'State', cell: (r) => <When coupon={r} />, width: '150px' },
];

function InShop({ coupon: { shop, state, warning } }: { coupon: CouponOut }) {
  if (state === 'ended' && warning) return <State is="waiting" word="still used" />;
  return <State is={shopLooks[shop]} word={shopWords[shop]} />;
}

/** Its state with the day that comes next. */
function When({ coupon: { state, from, until } }: { coupon: CouponOut }) {
  const { day, end } = useProgramme();
  if (state === 'scheduled') return <State is={state} word={`from ${day(from!)}`} />;
  if (state === 'ended') return <State is={state} word={`ended ${end(until!)}`} />;
  return <State is={state} word={until === null ? undefined : `${state} until ${end(until)}`} />;
}
