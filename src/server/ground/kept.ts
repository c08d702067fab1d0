/** What is dropped together: the merchant's records (programme, products, links, keys), and the terms with their members. */
export type Topic = 'records' | 'terms';

type Shelf = Map<object, NonNullable<unknown>>;

/** What is kept between requests and dropped when what it was read from changes. */
export interface Kept {
  shelves: Record<Topic, Shelf>;
  /** grows whenever something of this is dropped: who keeps the same elsewhere reads it anew */
  stamp: number;
  /** told when something that tracking keeps in memory may have changed */
  onChange: (() => void)[];
  /** awaited when a programme has been set up, before anybody is told so */
  onSetUp: (() => Promise<void>)[];
}

export const newKept = (): Kept => ({
  shelves: { records: new Map(), terms: new Map() },
  stamp: 0,
  onChange: [],
  onSetUp: [],
});
