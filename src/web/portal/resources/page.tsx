import { useQuery } from '@tanstack/react-query';
import { readResources } from '../../../contract/recruit/offers';
import { useAddress } from '../../kit/address';
import { asking } from '../../kit/asking';
import { Choice } from '../../kit/choice';
import { Empty, Failed, Skeleton } from '../../kit/place';
import { Notices } from './notices';
import { Offers } from './offers';
import { OfProduct, ProductLine } from './product';
import type { Resources } from './shown';

/** What an affiliate works with, put together by itself: of one product, or of all that it promotes. */
export function ResourcesPage() {
  const address = useAddress();
  const query = useQuery(asking(readResources));
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const { notices, offers, products } = query.data;
  const chosen = products.find((p) => p.code === address.get('product'));
  return (
    <>
      <h1>Resources</h1>
      {products.length > 1 && (
        <p className="text-ink2">
          <Choice
            label="Product"
            value={chosen?.code ?? ''}
            options={[['', 'For everything'], ...products.map((p) => [p.code, `For ${p.name}`] as const)]}
            onChange={(code) => address.set('product', code)}
          />
        </p>
      )}
      {chosen ? (
        <OfProduct
          product={chosen}
          notices={notices.filter((n) => n.product === null || n.product.id === chosen.id)}
          offers={offers.filter((o) => o.products.some((p) => p.name === chosen.name))}
        />
      ) : (
        <OfEverything resources={query.data} onChoose={(code) => address.set('product', code)} />
      )}
    </>
  );
}

function OfEverything({
  resources: { products, notices, offers },
  onChoose,
}: {
  resources: Resources;
  onChoose: (code: string) => void;
}) {
  if (products.length + notices.length + offers.length === 0)
    return (
      <div className="mt-3">
        <Empty title="Nothing here yet">News, notes and pages to link to appear here.</Empty>
      </div>
    );
  return (
    <div className="gap-x-8 lg:flex">
      <div className="min-w-0 lg:flex-1">
        <ul className="mt-3" aria-label="Products">
          {products.map((product) => (
            <ProductLine key={product.id} product={product} onChoose={() => onChoose(product.code)} />
          ))}
        </ul>
        <Offers offers={offers} />
      </div>
      <div className="min-w-0 lg:w-[380px]">
        <Notices notices={notices} />
      </div>
    </div>
  );
}
