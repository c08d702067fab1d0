import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { listOwnCoupons } from '../../../contract/portal/coupons';
import { listOwnMaterial, surveyOwnMaterial, type OwnRow } from '../../../contract/portal/material';
import { asking } from '../../kit/asking';
import { usePortalBase } from '../base';
import { CouponCard } from '../material/coupons';
import { Tile } from '../material/tile';

const shownPieces = 3;

/** The newest creatives. */
function useNewest(): OwnRow[] {
  return useQuery(asking(listOwnMaterial, { query: { limit: shownPieces } })).data?.rows ?? [];
}

/** The newest to promote with: what came since one was here, or else the last that came. */
export function NewPieces() {
  const base = usePortalBase();
  const go = useNavigate();
  const rows = useNewest();
  const coupons = useQuery(asking(listOwnCoupons)).data?.rows ?? [];
  const fresh = useQuery(asking(surveyOwnMaterial)).data?.fresh ?? 0;
  const coupon = coupons.find((c) => c.isNew) ?? coupons[0];
  if (!coupon && rows.length === 0) return null;
  const pieces = rows.slice(0, coupon ? shownPieces - 1 : shownPieces);
  return (
    <section className="mt-7" aria-labelledby="new">
      <h2 id="new">{fresh > 0 ? 'New since you were here' : 'To promote with, the newest'}</h2>
      <ul className="mt-2 flex flex-wrap items-end gap-x-5 gap-y-4">
        {pieces.map((row) => (
          <Tile key={row.id} row={row} onOpen={() => void go(`${base}/creatives?id=${row.id}`)} />
        ))}
        {coupon && <CouponCard coupon={coupon} />}
      </ul>
    </section>
  );
}
