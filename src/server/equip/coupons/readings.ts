import { readingsOf } from '../../ground/reading/readings';
import { listCouponsPage } from './list';

/** Coupons, read beside the serving thread. */
export const couponReadings = readingsOf({ coupons: listCouponsPage });
