import { asc, eq, isNotNull } from 'drizzle-orm';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { turn } from '../../ground/http/turns';
import { productNews } from '../../ground/tables/products';
import { detailsOf } from '../../registers/catalogue/details';
import { type ProductRecord } from '../../registers/catalogue/store';
import { queue } from '../../registers/outbox/queue';
import { promotersAfter, type Promoter } from '../../registers/people/promoters';
import { theProgramme } from '../../registers/programme/record';

type News = typeof productNews.$inferSelect;

/** So many are told at once with the act, and so many in each turn after it. */
const withTheAct = 100;
const inATurn = 50;

/** Writes one mail of a piece of news. */
function tellOne(app: App, { subject, news }: News, { id, name, email }: Promoter): void {
  const { name: merchant, contact } = theProgramme(app);
  queue(app, {
    to: email,
    affiliate: id,
    kind: 'product-news',
    subject,
    body: `Hello ${name},\n\n${news}\n\nWhat you have earned stays yours. Your portal: ${app.address}/portal\n\nQuestions: ${contact}\n\n${merchant}`,
  });
}

/** Tells some of those who are still to be told of a piece of news. */
function tellSome(app: App, item: News, most: number): void {
  const next = promotersAfter(app, item.product, { after: item.toldTo!, most });
  for (const promoter of next) tellOne(app, item, promoter);
  app.db
    .update(productNews)
    .set({ toldTo: next.length < most ? null : next.at(-1)!.id })
    .where(eq(productNews.id, item.id))
    .run();
}

/** Tells those who promote a product what became of it: some at once, the others in turns. Nobody is told of a product that is closed to affiliates. */
export function announce(
  app: App,
  product: ProductRecord,
  { subject, news }: Pick<News, 'subject' | 'news'>,
): void {
  const at = app.clock.now();
  if (!isOpenToAffiliates(detailsOf(product), at)) return;
  const item = { id: newId('productNews'), product: product.id, at, subject, news, toldTo: '' };
  app.db.insert(productNews).values(item).run();
  tellSome(app, item, withTheAct);
}

/** The oldest piece of news that not everybody was told. */
const untold = (app: App): News | undefined =>
  app.db
    .select()
    .from(productNews)
    .where(isNotNull(productNews.toldTo))
    .orderBy(asc(productNews.id))
    .limit(1)
    .get();

/** Tells the others of each piece of news, beside whatever else is served. */
export async function tellProductNews(app: App): Promise<void> {
  while (untold(app)) {
    app.transaction(() => {
      const item = untold(app);
      if (item) tellSome(app, item, inATurn);
    });
    await turn();
  }
}
