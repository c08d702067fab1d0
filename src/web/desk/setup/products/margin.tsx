import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { checkPages, type ProductOut } from '../../../../contract/setup/products';
import { readProgramme } from '../../../../contract/setup/settings';
import { formatMoney } from '../../../../core/money/amount';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Copy } from '../../../kit/copy';
import { DottedItem } from '../../../kit/dotted';
import { Said } from '../../../kit/note';
import { Margin } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Code } from '../../../kit/text';
import { useMay } from '../../roles';
import { Consequences } from './consequences';
import { CoOwners } from './coowners';
import { type Values } from './fields/part';
import { PictureOf } from './uploads';

/** What a merchant pastes into a page of its own. */
const buttonOf = (code: string) =>
  `<script src="${window.location.origin}/button.js" data-product="${code}" async></script>`;

/** What a sale comes to while it is typed, and what is known of a product that is there. */
export function ProductMargin({ values, product }: { values: Values; product: ProductOut | null }) {
  const settings = useQuery(asking(readProgramme));
  return (
    <Margin width="w-[348px]">
      <h2 className="mb-[6px]">One sale</h2>
      <Consequences values={values} product={product} settings={settings.data} />
      {product && (
        <>
          <NowSold product={product} />
          <CoOwners product={product.id} name={product.name} />
          <Pages product={product} />
          <BuyButton product={product} />
          <p className="mt-5 text-ink3">
            <Link className="link" to="/products">
              All products
            </Link>
          </p>
        </>
      )}
    </Margin>
  );
}

/** What a merchant pastes into a page of its own. */
function BuyButton({ product }: { product: ProductOut }) {
  if (product.state === 'draft') return null;
  return (
    <div className="mt-5">
      <h2>Buy button</h2>
      <Said>
        Shows the price of the moment{product.left !== null && ' and how many are left'}, on any page of
        yours.
      </Said>
      <p className="mt-1 break-all">
        <Code>{buttonOf(product.code)}</Code> <Copy text={buttonOf(product.code)} />
      </p>
    </div>
  );
}

/** Its pages, and whether each was there when it was looked at last. */
function Pages({ product }: { product: ProductOut }) {
  const may = useMay();
  const look = useAct(checkPages);
  if (product.pages.length === 0) return null;
  return (
    <div className="mt-5">
      <h2>
        Pages{' '}
        {may(checkPages) && (
          <Button
            look="bare"
            className="font-sans text-[13px]"
            busy={look.isPending}
            onClick={() => look.mutate({ params: { id: product.id } })}
          >
            look now
          </Button>
        )}
      </h2>
      <ul>
        {product.pages.map((p) => (
          <DottedItem key={p.role + p.address}>
            <State is={p.ok === null ? 'waiting' : p.ok ? 'live' : 'refused'} word={`${p.role}: ${p.said}`} />
            <span className="block truncate text-ink3" title={p.address}>
              {p.address}
            </span>
          </DottedItem>
        ))}
      </ul>
    </div>
  );
}

/** How many are sold at what price, and what is missing before it can go live. */
function NowSold({ product }: { product: ProductOut }) {
  return (
    <>
      <div className="mt-5 flex items-center gap-3">
        <PictureOf product={product} />
        <div className="text-ink2">
          {product.presentPrice && (
            <>
              Now {formatMoney(product.presentPrice)}
              {product.left !== null && (
                <>
                  , {product.left} left{product.step ? ' at this price' : ''}
                </>
              )}
              <br />
            </>
          )}
          {product.sold} sold
        </div>
      </div>
      <h2 className="mt-5 mb-1">Ready to go live</h2>
      <ul>
        {product.readiness.map((r) => (
          <DottedItem key={r.field} className="flex items-center gap-2">
            <State is={r.ready ? 'live' : 'waiting'} word={r.label} />
          </DottedItem>
        ))}
      </ul>
    </>
  );
}
