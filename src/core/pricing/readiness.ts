/** The states of a product and where each may go. */
export const productSteps = {
  draft: ['live', 'retired'],
  live: ['paused', 'retired'],
  paused: ['live', 'retired'],
  retired: ['paused'],
} as const;
export type ProductState = keyof typeof productSteps;

/** True if a product may go from one state to the other. Bringing a retired one back never makes it live at once. */
export function mayBecome(from: ProductState, to: ProductState): boolean {
  return (productSteps[from] as readonly ProductState[]).includes(to);
}

export interface ProductFacts {
  /** a free product needs no price, but a commission by the lead */
  kind?: string;
  name: string;
  description: string;
  price: number | null;
  salesPage: string;
  hasCommission: boolean;
  /** a product that is delivered as a file needs one */
  needsFile?: boolean;
  hasFile?: boolean;
}

/** One thing a product needs before it can go live. */
export interface Readiness {
  field: string;
  label: string;
  ready: boolean;
}

/** What a product needs to go live, in the order to do it. */
export function readiness(facts: ProductFacts): Readiness[] {
  return [
    { field: 'name', label: 'A name that buyers read', ready: facts.name.trim() !== '' },
    { field: 'description', label: 'A description', ready: facts.description.trim() !== '' },
    ...(facts.kind === 'free'
      ? []
      : [{ field: 'price', label: 'A price above zero', ready: facts.price !== null && facts.price > 0 }]),
    { field: 'salesPage', label: 'A sales page that links lead to', ready: facts.salesPage !== '' },
    { field: 'reward', label: 'A commission', ready: facts.hasCommission },
    ...(facts.needsFile
      ? [{ field: 'delivery', label: 'The file that buyers get', ready: facts.hasFile === true }]
      : []),
  ];
}

/**
 * A product code proposed from a name: capitals, digits and dashes, at most 16. "Table-top wheel kit" → "TABLE-TOP-WHEEL".
 */
export function proposeCode(name: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toUpperCase();
  const words = plain.replace(/[^A-Z0-9]+/g, '-').replace(/^-+|-+$/g, '');
  return words
    .slice(0, 16)
    .replace(/-[^-]*$/, (cut) => (words.length > 16 && words[16] !== '-' ? '' : cut))
    .replace(/-+$/, '');
}
