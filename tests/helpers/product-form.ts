import type { ProductOut } from '../../src/contract/setup/products';

const fields = [
  ...(['version', 'code', 'name', 'description', 'currency', 'price'] as const),
  ...(['refundDays', 'salesPage', 'rewardKind', 'reward'] as const),
];

/** What the form of a product sends that leaves everything as it is. */
export const formOf = (product: ProductOut) =>
  Object.fromEntries(fields.map((key) => [key, product[key]])) as Pick<ProductOut, (typeof fields)[number]>;
