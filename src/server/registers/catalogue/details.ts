import { plainDetails, type ProductDetails } from '../../../core/pricing/product';
import { type ProductRecord } from './store';

/** The details of a product, every default filled. */
export function detailsOf(row: Pick<ProductRecord, 'details'>): ProductDetails {
  return { ...plainDetails, ...row.details };
}

/** True for what affiliates may apply for. */
export const isRecruiting = (row: Pick<ProductRecord, 'details' | 'state'>): boolean =>
  row.state === 'live' && detailsOf(row).recruiting !== 'none';

/** True for what a buyer gets as a file; asked of every product at every report. */
export const deliversFile = ({ details }: Pick<ProductRecord, 'details'>): boolean =>
  (details.delivery ?? plainDetails.delivery) === 'file';
