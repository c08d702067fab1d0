import type { Event, Rate, What } from '../../../core/terms/rate';
import { isId, type Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { products } from '../../ground/tables/catalogue';
import { funnelSteps } from '../../ground/tables/products';
import { sets } from '../../ground/tables/terms';
import { affiliateNames } from '../../registers/people/names';

export const eventWords: Record<Event, string> = {
  sale: 'first sale',
  renewal: 'renewals',
  lead: 'leads',
  click: 'clicks',
};
export const kindWords: Record<string, string> = {
  'one-off': 'one-off products',
  recurring: 'recurring products',
  instalments: 'products in instalments',
  free: 'free products',
};

/** Functions that name what terms speak of, read once for many. */
export function termsWords(app: App, people: Iterable<Id<'affiliate' | 'set'>>) {
  const product = new Map(
    app.db
      .select({ id: products.id, name: products.name })
      .from(products)
      .all()
      .map((p) => [p.id, p.name]),
  );
  const set: ReadonlyMap<string, string> = new Map(
    app.db
      .select({ id: sets.id, of: sets.of, name: sets.name })
      .from(sets)
      .all()
      .map((s) => [s.id, `${s.of} ${s.name}`]),
  );
  const person = affiliateNames(
    app,
    [...people].filter((id) => isId(id, 'affiliate')),
  );
  const step = new Map(
    app.db
      .select({ code: funnelSteps.code, product: funnelSteps.product })
      .from(funnelSteps)
      .all()
      .map((s) => [s.code, `${product.get(s.product) ?? ''} at ${s.code}`]),
  );
  const what = (w: What): string =>
    w.type === 'everything'
      ? 'everything'
      : w.type === 'kind'
        ? (kindWords[w.kind] ?? w.kind)
        : w.type === 'product'
          ? (product.get(w.product) ?? w.product)
          : (step.get(w.step) ?? `step ${w.step}`);
  const who = (id: Id<'affiliate' | 'set'> | null): string =>
    id === null ? 'everyone' : (person.get(id) ?? set.get(id) ?? id);
  return {
    what,
    who,
    product: (id: Id<'product'>) => product.get(id) ?? id,
    /** "Table-top wheel kit, group Studio circle" */
    place: (r: Pick<Rate, 'what' | 'who' | 'event'>): string =>
      `${what(r.what)}${r.event === 'sale' ? '' : `, ${eventWords[r.event]}`}, ${who(r.who)}`,
  };
}
