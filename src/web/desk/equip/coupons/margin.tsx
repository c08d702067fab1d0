import type { CouponOut } from '../../../../contract/equip/coupons';
import { counted } from '../../../../core/text/counted';
import { Hint, Note, Said } from '../../../kit/note';
import { Margin } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Code, Day, Money, Small, Sums } from '../../../kit/text';
import { Planned } from '../../shared/planned';
import { shopLooks, shopWords } from './words';

const kinds = { seen: 'orders with it', said: 'said to be set up', refused: 'refused' } as const;

/** A coupon: what it gives, how it stands in the shop, what came of it, what is planned for it. */
export function CouponMargin({ coupon }: { coupon: CouponOut }) {
  return (
    <Margin width="w-[318px]">
      <h2>
        <Code>{coupon.code}</Code>
      </h2>
      <p>{coupon.says}</p>
      <Said>
        On {coupon.names.join(', ') || 'everything'};{' '}
        <span className="private">
          {coupon.ownerName === null ? `${coupon.forWhom} may use it` : `the own of ${coupon.ownerName}`}
        </span>
        . {coupon.applied ? 'The shop applies it from the link.' : 'Buyers have to type it.'}
      </Said>
      {coupon.terms && <Said gap={2}>{coupon.terms}</Said>}
      {coupon.warning && <Note className="mt-2">{coupon.warning}</Note>}
      <Shop coupon={coupon} />
      <CouponResults coupon={coupon} />
      <Planned planned={coupon.planned} />
    </Margin>
  );
}

function Shop({ coupon }: { coupon: CouponOut }) {
  return (
    <section className="mt-4" aria-label="In the shop">
      <h2>In the shop</h2>
      <p className="mt-1">
        <State is={shopLooks[coupon.shop]} word={shopWords[coupon.shop]} />
        <Small below>{coupon.shopSays}</Small>
      </p>
      {coupon.evidence.map((e) => (
        <Hint key={e.kind}>
          {kinds[e.kind]}: {e.times}, first <Day at={e.firstAt} />, last <Day at={e.lastAt} />
        </Hint>
      ))}
    </section>
  );
}

function CouponResults({ coupon: { results } }: { coupon: CouponOut }) {
  return (
    <section className="mt-4" aria-label="What came of it">
      <h2>What came of it</h2>
      <Sums
        rows={[
          {
            label: `Clicks by its links, ${counted(results.days, 'day')}`,
            figure: results.clicks.toLocaleString('en-GB'),
          },
          { label: 'Orders with it', figure: results.orders.toLocaleString('en-GB') },
          ...(results.renewals
            ? [{ label: 'Renewals of them', figure: results.renewals.toLocaleString('en-GB') }]
            : []),
          { label: 'Worth', figure: <Money value={results.value} /> },
          { label: 'Commission', figure: <Money value={results.commission} /> },
          {
            label: 'Last used',
            figure: results.lastUsed === null ? 'never' : <Day at={results.lastUsed} />,
          },
        ]}
      />
    </section>
  );
}
