/** A product as far as the confirmation page asks. */
export interface Offerable {
  code: string;
  /** live, launched and not sold out */
  onSale: boolean;
  confirmOffer: boolean;
  /** codes after whose sale it is not offered */
  confirmNotAfter: readonly string[];
  sold: number;
}

/** More would not be read. */
export const mostOffered = 3;

/**
 * What a confirmation page offers somebody who has just bought: products that are offered there and on sale, but nothing that was
 * just bought, and nothing that is excluded after any of it. Best-selling first, then by code.
 * @param bought codes, in any case
 */
export function confirmationOffers<T extends Offerable>(
  products: readonly T[],
  bought: readonly string[],
): T[] {
  const had = new Set(bought.map((c) => c.trim().toUpperCase()));
  return products
    .filter(
      (p) =>
        p.confirmOffer &&
        p.onSale &&
        !had.has(p.code.toUpperCase()) &&
        !p.confirmNotAfter.some((c) => had.has(c.toUpperCase())),
    )
    .sort((a, b) => b.sold - a.sold || (a.code < b.code ? -1 : 1))
    .slice(0, mostOffered);
}
