/** What of an affiliate can be handed to a sales page: its public name, or its number with us. */
export const handings = ['handle', 'number'] as const;
export type Handing = (typeof handings)[number];

/** Parameters of our own at a sales page: what a merchant hands over cannot take their place. */
export const ownParameters = ['gvn', 'coupon', 'to'] as const;

interface Handed {
  /** empty: nothing is handed over */
  parameter: string;
  as: Handing;
}

/**
 * What follows a sales page's address where it is told who has led a buyer there: "&partner=loam-letters"; empty where it is not.
 * @param affiliate its handle, and its id with us
 */
export function handedPart(
  { parameter, as }: Handed,
  { handle, id }: { handle: string; id: string },
): string {
  if (parameter === '') return '';
  return `&${encodeURIComponent(parameter)}=${encodeURIComponent(as === 'handle' ? handle : id)}`;
}

/** The address that a buyer comes to, as a sample. @param page empty: none is known yet */
export const sampleHanded = (page: string, handed: Handed): string =>
  `${page || 'https://shop.quernstone.example/p/wheel'}${page.includes('?') ? '&' : '?'}gvn=vis_…${handedPart(handed, { handle: 'loam-letters', id: 'aff_7k2m9q4t' })}`;
