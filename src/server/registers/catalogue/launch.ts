import { beforeLaunch } from '../../../core/pricing/product';
import { detailsOf } from './details';
import type { ProductRecord } from './store';

/** True from the launch moment on, or where no launch is planned. */
export function launchedAt(product: ProductRecord, at: number): boolean {
  return !beforeLaunch(detailsOf(product), at);
}
