import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import { keptProducts, type KeptProduct } from '../../registers/catalogue/store';

/** Which of a creative's products its links are for now: the first that is on sale, else the first that is not retired. */
export function productLed(app: App, products: readonly Id<'product'>[]): KeptProduct | null {
  const known = new Map(keptProducts(app).map((p) => [p.id, p]));
  const own = products.flatMap((id) => known.get(id) ?? []);
  return own.find((p) => p.state === 'live') ?? own.find((p) => p.state !== 'retired') ?? own[0] ?? null;
}

/** Where a creative's links lead at this moment; empty where its product has no page. */
export function leadsTo(
  app: App,
  { landing, products }: { landing: string; products: readonly Id<'product'>[] },
): string {
  if (landing !== '') return landing;
  const product = productLed(app, products);
  if (!product) return '';
  const { prelaunchPage, launchAt, fallbackPage } = detailsOf(product);
  if (prelaunchPage && launchAt !== null && launchAt > app.clock.now()) return prelaunchPage;
  return product.state === 'live' || !fallbackPage ? product.salesPage : fallbackPage;
}
