import * as contract from '../../../contract/equip/coupons';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { couponReadings } from './readings';
import { createCoupon, editCoupon, planCoupon, relaunchCoupon, removeCoupon, sayCoupon } from './service';
import { showCoupon } from './view';

export function couponRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listCoupons, ({ query }) => app.reader.say(couponReadings.coupons, query));
  serve(site, contract.readCoupon, ({ params }) => showCoupon(app, params.id));
  serve(site, contract.createCoupon, ({ actor, body }) => createCoupon(app, actor, body), { tried: true });
  serve(site, contract.editCoupon, ({ actor, params, body }) => editCoupon(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, contract.relaunchCoupon, ({ actor, params, body }) =>
    relaunchCoupon(app, actor, params.id, body),
  );
  serve(site, contract.removeCoupon, ({ actor, params, body }) =>
    removeCoupon(app, actor, params.id, body.on),
  );
  serve(site, contract.sayCoupon, ({ actor, params, body }) => sayCoupon(app, actor, params.id, body.what));
  serve(site, contract.planCoupon, ({ actor, params, body }) => planCoupon(app, actor, params.id, body), {
    tried: true,
  });
}
