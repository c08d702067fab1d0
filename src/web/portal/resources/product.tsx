import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { listOwnCoupons } from '../../../contract/portal/coupons';
import { listOwnMaterial } from '../../../contract/portal/material';
import { asking } from '../../kit/asking';
import { Copy } from '../../kit/copy';
import { Earning } from '../../kit/earning';
import { Said } from '../../kit/note';
import { QrLink } from '../../kit/qr-link';
import { Code } from '../../kit/text';
import { usePortalBase } from '../base';
import { Ask } from '../material/asking';
import { CouponCard } from '../material/coupons';
import { Tile } from '../material/tile';
import { Notices } from './notices';
import { Offers } from './offers';
import type { Resources } from './shown';

type Product = Resources['products'][number];

/** A product that is promoted, and the way to its resources. */
export function ProductLine({ product, onChoose }: { product: Product; onChoose: () => void }) {
  const { name, price, picture, link } = product;
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule2 py-2">
      <img src={picture} alt="" width={44} height={44} className="border border-rule" loading="lazy" />
      <span className="min-w-[180px] flex-1">
        <button type="button" className="text-left font-semibold hover:text-copper" onClick={onChoose}>
          {name}
        </button>{' '}
        <span className="text-ink3">{price}</span>
        <br />
        <span className="text-ink2">
          you earn <Earning of={product} />
        </span>
      </span>
      <span>
        <Copy text={link}>copy link</Copy> · <QrLink address={link} />
      </span>
    </li>
  );
}

const shownPieces = 8;

interface Props {
  product: Product;
  notices: Resources['notices'];
  offers: Resources['offers'];
}

/** The page of one product: what it is and earns, what to promote it with, what is said of it. */
export function OfProduct({ product, notices, offers }: Props) {
  const { name, price, picture, link, description } = product;
  return (
    <>
      <section className="mt-3 flex flex-wrap items-start gap-x-5 gap-y-3" aria-label={name}>
        <img src={picture} alt="" width={120} height={120} className="border border-rule" />
        <div className="min-w-[240px] flex-1">
          <h2>
            {name} <span className="font-sans text-[14px] font-normal text-ink3">{price}</span>
          </h2>
          <p dir="auto" className="max-w-[66ch] whitespace-pre-wrap text-ink2">
            {description}
          </p>
          <Said>
            You earn <Earning of={product} />
          </Said>
          <p className="mt-1 break-all">
            <Code>{link}</Code> <Copy text={link} /> · <QrLink address={link} />
          </p>
        </div>
      </section>
      <Pieces product={product} />
      <CouponsOf product={product} />
      <Offers offers={offers} />
      <Notices notices={notices} />
    </>
  );
}

/** The newest creatives for it. */
function Pieces({ product: { code, name } }: { product: Product }) {
  const base = usePortalBase();
  const go = useNavigate();
  const found = useQuery(asking(listOwnMaterial, { query: { product: code, limit: shownPieces } })).data;
  if (!found) return null;
  return (
    <section className="mt-6" aria-label={`Creatives for ${name}`}>
      <h2>Creatives</h2>
      {found.rows.length === 0 ? (
        <Said>
          Nothing of its own yet. <Ask>Ask for what you need</Ask>
        </Said>
      ) : (
        <>
          <ul className="mt-2 flex flex-wrap items-end gap-x-5 gap-y-4">
            {found.rows.map((row) => (
              <Tile key={row.id} row={row} onOpen={() => void go(`${base}/creatives?id=${row.id}`)} />
            ))}
          </ul>
          <Link className="link mt-2 inline-block" to={`${base}/creatives?product=${code}`}>
            {found.next ? 'all of them' : 'among the creatives'}
          </Link>
        </>
      )}
    </section>
  );
}

/** The coupons that are on for it. */
function CouponsOf({ product: { name } }: { product: Product }) {
  const rows = useQuery(asking(listOwnCoupons)).data?.rows ?? [];
  const own = rows.filter((c) => c.products.length === 0 || c.products.includes(name));
  if (own.length === 0) return null;
  return (
    <section className="mt-6" aria-label={`Coupons for ${name}`}>
      <h2>Coupons</h2>
      <ul className="mt-2 flex flex-wrap gap-3">
        {own.map((coupon) => (
          <CouponCard key={coupon.id} coupon={coupon} />
        ))}
      </ul>
    </section>
  );
}
