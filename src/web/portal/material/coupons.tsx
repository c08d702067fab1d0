import { useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { listOwnCoupons, takeOwnCoupon, type OwnCoupon } from '../../../contract/portal/coupons';
import { useAct } from '../../kit/act';
import { asking } from '../../kit/asking';
import { Copy } from '../../kit/copy';
import { useProgramme } from '../../kit/programme';
import { Small } from '../../kit/text';
import { useLooking } from '../base';

/** The codes that an affiliate may give to its readers. */
export function Coupons() {
  const rows = useQuery(asking(listOwnCoupons)).data?.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Coupons" className="mt-4">
      <h2>Coupons</h2>
      <ul className="mt-2 flex flex-wrap gap-3">
        {rows.map((row) => (
          <CouponCard key={row.id} coupon={row} />
        ))}
      </ul>
    </section>
  );
}

/** A code on its slip: what it gives, until when, and how it reaches the shop. */
export function CouponCard({ coupon }: { coupon: OwnCoupon }) {
  const { end } = useProgramme();
  const { code, says, products, until, terms, applied, own, seenWorking, isNew } = coupon;
  return (
    <li className="w-full border border-dashed border-copper bg-sheet px-3 py-2 sm:w-[200px]">
      <p className="flex items-baseline justify-between gap-2">
        <b className="font-mono text-[16px] font-normal">{code}</b>
        {isNew && <span className="rounded-sm bg-copper-wash px-1 text-[12px] text-copper">new</span>}
      </p>
      <p className="text-[12.5px]">
        {says}
        {products.length > 0 && <>, {products.join(', ')}</>}
        {until !== null && <>, until {end(until)}</>}
      </p>
      {terms && <Small below>{terms}</Small>}
      <p className="text-[12.5px] text-ink2">
        {own ? 'your own' : applied ? 'applied by the link' : 'typed at checkout'}
        <br />
        {!seenWorking && (
          <span className="block text-ochre">Not seen working in the shop yet: try it first</span>
        )}
        <Copy text={code}>copy code</Copy> <CopyLink coupon={coupon} />
      </p>
    </li>
  );
}

/** Makes the link the first time, and copies it. */
function CopyLink({ coupon: { id, code } }: { coupon: OwnCoupon }) {
  const looking = useLooking();
  const take = useAct(takeOwnCoupon, {
    done: ({ link }) => {
      navigator.clipboard.writeText(link ?? '').then(
        () => toast(`Your link with ${code} is copied`),
        () => toast.error('The browser did not let it be copied'),
      );
    },
  });
  if (looking) return null;
  return (
    <>
      ·{' '}
      <button
        type="button"
        className="link"
        disabled={take.isPending}
        aria-label={`Copy the link with ${code}`}
        onClick={() => take.mutate({ params: { id } })}
      >
        copy link
      </button>
    </>
  );
}
