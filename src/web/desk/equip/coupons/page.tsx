import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { createCoupon, listCoupons, type CouponOut } from '../../../../contract/equip/coupons';
import { listProducts } from '../../../../contract/setup/products';
import { creativeStates, creativeStateWords, shopStates } from '../../../../core/material/lists';
import { useAddress } from '../../../kit/address';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { Column, Split } from '../../../kit/layout';
import { cursorKeys, searchKey } from '../../../kit/list-keys';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading, UnreadRows } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { Table } from '../../../kit/table';
import { useMay } from '../../roles';
import { CouponBar, type CouponAct } from './acts/bar';
import { CouponDialog } from './acts/dialogs';
import { couponColumns } from './columns';
import { filterIn } from './filter';
import { CouponMargin } from './margin';
import { shopWords } from './words';

/** The list, the place in it, and what is being done; with the keys for that. */
function useCoupons(address: ReturnType<typeof useAddress>) {
  const filter = filterIn(address.params);
  const list = useList(listCoupons, filter, 100);
  const cursor = useCursor(list.rows, (r) => r.id, address.id('id', 'coupon'));
  const [acting, setActing] = useState<CouponAct | null>(address.get('new') ? 'new' : null);
  const may = useMay();
  const mayAct = may(createCoupon);
  const at = cursor.row ?? list.rows[0] ?? null;
  const begin = (act: CouponAct) => {
    if (mayAct && (act === 'new' || at)) setActing(act);
  };
  const keys = useKeys([
    ...cursorKeys(cursor, 'coupon'),
    { key: 'n', what: 'new coupon', act: () => begin('new') },
    { key: 'e', what: 'change it', act: () => begin('edit') },
    { key: 'r', what: 'launch it again', act: () => begin('relaunch') },
    { key: 's', what: 'say that it is set up in the shop', act: () => begin('said') },
    searchKey,
  ]);
  const narrowed = Object.keys(filter).length > 0;
  return {
    list,
    cursor,
    at,
    mayAct,
    acting,
    begin,
    end: () => {
      setActing(null);
      if (address.get('new')) address.put({ new: '' }, { replace: true });
    },
    keys,
    narrowed,
  };
}

/** Coupons: the list, and beside it the one that is looked at. */
export default function Coupons() {
  const address = useAddress();
  const place = useCoupons(address);
  const products = useQuery(asking(listProducts, { query: { limit: 500 } })).data?.rows ?? [];
  const { at, acting, mayAct, begin } = place;
  return (
    <>
      <Split>
        <Column aria-label="Coupons">
          <Heading
            title="Coupons"
            acts={
              <>
                <SearchField label="Code or words" />
                {mayAct && (
                  <Button look="main" keyName="N" onClick={() => begin('new')}>
                    New coupon
                  </Button>
                )}
              </>
            }
          >
            <Sentence address={address} products={products} />
          </Heading>
          <UnreadRows count={place.list.unreadable} />
          <CouponTable {...place} />
        </Column>
        {at && <CouponMargin coupon={at} />}
      </Split>
      {mayAct && at && <CouponBar coupon={at} begin={begin} />}
      {acting && (
        <CouponDialog
          act={acting}
          coupon={acting === 'new' ? null : at}
          products={products}
          onClose={place.end}
        />
      )}
      {place.keys}
    </>
  );
}

type Place = ReturnType<typeof useCoupons>;

function CouponTable({ list, at, cursor, narrowed }: Pick<Place, 'list' | 'at' | 'cursor' | 'narrowed'>) {
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <Table
      label="Coupons"
      rows={list.rows}
      idOf={(r: CouponOut) => r.id}
      at={at?.id ?? null}
      onOpen={(r) => cursor.setAt(r.id)}
      onEnd={list.onEnd}
      loading={list.loading}
      empty={<NoCoupon narrowed={narrowed} />}
      columns={couponColumns}
    />
  );
}

function NoCoupon({ narrowed }: { narrowed: boolean }) {
  return narrowed ? (
    <Empty title="No coupon fits">Widen the filter above.</Empty>
  ) : (
    <Empty title="No coupon yet">
      Codes that buyers type, or that links hand to the shop: for everybody, for some, or an affiliate’s own.
    </Empty>
  );
}

function Sentence({
  address,
  products,
}: {
  address: ReturnType<typeof useAddress>;
  products: readonly { id: string; name: string }[];
}) {
  return (
    <>
      <Choice
        label="State"
        value={address.get('only') || address.get('state')}
        options={[
          ['', 'All coupons'],
          ...creativeStates.map((s) => [s, `Coupons that are ${creativeStateWords[s]}`] as const),
          ['warning', 'Coupons to look at'],
          ['removed', 'Coupons that were taken away'],
        ]}
        onChange={(v) => address.put(v === 'warning' ? { only: v, state: '' } : { only: '', state: v })}
      />{' '}
      for{' '}
      <Choice
        label="Product"
        value={address.get('product')}
        options={[['', 'any product'], ...products.map((p) => [p.id, p.name] as const)]}
        onChange={(v) => address.set('product', v)}
      />
      ,{' '}
      <Choice
        label="In the shop"
        value={address.get('shop')}
        options={[
          ['', 'however they stand in the shop'],
          ...shopStates.map((s) => [s, shopWords[s]] as const),
        ]}
        onChange={(v) => address.set('shop', v)}
      />
      ,{' '}
      <Choice
        label="Owner"
        value={address.get('owner')}
        options={[
          ['', 'whoever owns them'],
          ['nobody', 'nobody’s own'],
          ['somebody', 'an affiliate’s own'],
        ]}
        onChange={(v) => address.set('owner', v)}
      />
      , newest first
    </>
  );
}
