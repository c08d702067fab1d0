import type { Express } from 'express';
import { checkoutPages } from './shop/checkout';
import { couponPages } from './shop/coupons';
import { followOnPages } from './shop/follow-on';
import { gravenelOf, type ShopOptions } from './shop/gravenel';
import { orderPages } from './shop/orders';
import { recordsOf } from './shop/records';
import { chargerOf } from './shop/reports';
import { shelfPages } from './shop/shelf';
import { switchPages } from './shop/switches';
import type { StandinDb } from './store';

/** The shop: product page, checkout, order page with refunds. It speaks to Gravenel by the tracking contract and nothing else. */
export function shopPages(server: Express, db: StandinDb, options: ShopOptions): void {
  const records = recordsOf(db);
  const gravenel = gravenelOf(records, options);
  const chargeDue = chargerOf(records, gravenel);
  setInterval(() => {
    void chargeDue().catch(() => undefined);
  }, 5_000).unref();
  shelfPages(server, records, gravenel, chargeDue);
  checkoutPages(server, records, gravenel);
  followOnPages(server, records, gravenel);
  couponPages(server, db);
  orderPages(server, records, gravenel, chargeDue);
  switchPages(server, records, gravenel);
}
