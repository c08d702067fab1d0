import { creativeKinds, type CreativeKind } from './lists';
import { sizeName, usualSizes, type Size } from './sizes';

/** How many creatives of a kind and a size promote something now; those without a size have none. */
export interface Counted {
  /** id of a product, or “programme” */
  product: string;
  kind: CreativeKind;
  width: number | null;
  height: number | null;
  count: number;
}

/** What there is for one product: of each usual size of a banner, and of each kind. */
export interface Covered {
  product: string;
  sizes: { size: Size; count: number }[];
  kinds: Record<CreativeKind, number>;
  total: number;
}

/**
 * What there is for each product, in the order given. What is for the whole programme stands for itself, and for no product: its link leads to none.
 * @param products ids, and “programme”
 */
export function coverageOf(products: readonly string[], counted: readonly Counted[]): Covered[] {
  const own = new Map<string, Counted[]>();
  for (const one of counted) {
    const known = own.get(one.product);
    if (known) known.push(one);
    else own.set(one.product, [one]);
  }
  return products.map((product) => {
    const rows = own.get(product) ?? [];
    const sum = (fits: (row: Counted) => boolean) =>
      rows.filter(fits).reduce((total, row) => total + row.count, 0);
    return {
      product,
      sizes: usualSizes.map(({ width, height }) => ({
        size: { width, height },
        count: sum((row) => row.kind === 'banner' && row.width === width && row.height === height),
      })),
      kinds: {
        banner: sum((row) => row.kind === 'banner'),
        'text-link': sum((row) => row.kind === 'text-link'),
        html: sum((row) => row.kind === 'html'),
        video: sum((row) => row.kind === 'video'),
        email: sum((row) => row.kind === 'email'),
      },
      total: sum(() => true),
    };
  });
}

/** The gaps of a product: usual sizes and kinds of which there is nothing. */
export function gapsOf({ sizes, kinds }: Covered): string[] {
  return [
    ...sizes.filter(({ count }) => count === 0).map(({ size }) => sizeName(size)),
    ...creativeKinds.filter((kind) => kind !== 'banner' && kinds[kind] === 0),
  ];
}
