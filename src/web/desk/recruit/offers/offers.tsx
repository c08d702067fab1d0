import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { createOffer, listOffers } from '../../../../contract/recruit/offers';
import { listProducts } from '../../../../contract/setup/products';
import { asking } from '../../../kit/asking';
import { useKeys } from '../../../kit/keys';
import { Split } from '../../../kit/layout';
import { Failed, Skeleton } from '../../../kit/place';
import { useMay } from '../../roles';
import { OfferBar } from './acts';
import { OfferForm } from './form';
import { OfferList } from './list';
import { Notices } from './notices';
import { type Offer } from './offer';
import { Shown } from './shown';

/** Offer pages: what each says, where it stands in the catalogue, and how it compares. */
export default function Offers() {
  const list = useQuery(asking(listOffers));
  const products = useQuery(asking(listProducts, { query: { limit: 500 } }));
  if (list.isPending) return <Skeleton />;
  if (list.error) return <Failed fault={list.error} retry={() => void list.refetch()} />;
  return <OfferPages offers={list.data} products={products.data?.rows ?? []} />;
}

type Products = ReplyOf<typeof listProducts>['rows'];

function OfferPages({ offers, products }: { offers: ReplyOf<typeof listOffers>; products: Products }) {
  const { rows } = offers;
  const [params, setParams] = useSearchParams();
  const may = useMay();
  const [editing, setEditing] = useState<Offer | 'new' | null>(null);
  const id = params.get('id') ?? rows[0]?.id ?? null;
  const offer = rows.find((r) => r.id === id) ?? null;
  const show = (to: string | null) => setParams(to ? { id: to } : {}, { replace: true });
  const news = params.get('news') !== null;
  const step = (by: number) => {
    const i = rows.findIndex((r) => r.id === id);
    const to = rows[Math.min(rows.length - 1, Math.max(0, i + by))];
    if (to) show(to.id);
  };
  const keys = useKeys([
    { key: 'j', what: 'next page', act: () => step(1) },
    { key: 'k', what: 'page before', act: () => step(-1) },
    {
      key: 'n',
      what: 'a new offer page',
      act: () => {
        if (may(createOffer)) setEditing('new');
      },
    },
    {
      key: 'e',
      what: 'change it',
      act: () => {
        if (offer && may(createOffer)) setEditing(offer);
      },
    },
  ]);
  return (
    <>
      <Split>
        <OfferList
          setNews={(on) => setParams(on ? { news: '1' } : {})}
          news={news}
          rows={rows}
          id={id}
          show={show}
        />
        {news ? <Notices products={products} /> : <Shown offer={offer} registry={offers.registry} />}
      </Split>
      {may(createOffer) && !news && (
        <OfferBar offer={offer} registry={offers.registry} edit={setEditing} onRemoved={() => show(null)} />
      )}
      {editing && (
        <OfferForm
          offer={editing === 'new' ? null : editing}
          products={products}
          categories={offers.categories}
          onClose={() => setEditing(null)}
          onSaved={(o) => {
            setEditing(null);
            show(o.id);
          }}
        />
      )}
      {keys}
    </>
  );
}
