import { timingSafeEqual } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import type { Response } from 'express';
import { type Download } from '../../../contract/track/pages';
import { formatMoment } from '../../../core/calendar/format';
import { addZonedDays } from '../../../core/calendar/zone';
import { isId, type Id } from '../../../core/text/id';
import { escapeHtml, sizeInWords } from '../../../core/text/plain';
import { type App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { plainPage } from '../../ground/http/plain';
import type { Site } from '../../ground/http/site';
import { orderLines, orders } from '../../ground/tables/orders';
import { deliversFile, detailsOf } from '../../registers/catalogue/details';
import { contentOf, fileOf } from '../../registers/catalogue/files';
import { keptProducts, productById } from '../../registers/catalogue/store';
import { buyerContacts, contactsInWords } from '../../registers/programme/buyers';
import { theProgramme } from '../../registers/programme/record';

/** So much of the keyed digest stands in a link: 160 bits. */
const markLength = 40;

const markOf = (app: App, order: string, position: number, until: number) =>
  app.seal.digest(`download ${order} ${position} ${until}`).slice(0, markLength);

// asked for with every order
const linesOf = perApp((app) => rowsBy(app, orderLines, ['order'], { inOrderOf: 'position' }));

/** The links with which a buyer gets the files of an order; each is good for so many days from a moment. Nothing is kept: the mark proves it. */
export function downloadsOf(app: App, order: Id<'order'>, from: number): Download[] {
  if (!keptProducts(app).some(deliversFile)) return [];
  const { zone } = theProgramme(app);
  const lines = linesOf(app).all(order);
  return lines.flatMap((l): Download[] => {
    const product = productById(app, l.product);
    const file =
      product && deliversFile(product) && !givenBack(l) ? fileOf(app, product.id, 'delivery') : undefined;
    if (!product || !file) return [];
    const until = addZonedDays(from, detailsOf(product).downloadDays, zone);
    return [
      {
        product: product.code,
        name: file.name,
        url: `${app.address}/get/${order}.${l.position}.${until}.${markOf(app, order, l.position, until)}`,
        until: new Date(until).toISOString(),
      },
    ];
  });
}

const givenBack = (l: { value: number; valueLeft: number }) => l.value > 0 && l.valueLeft === 0;

type Found =
  | { ok: true; file: NonNullable<ReturnType<typeof fileOf>>; until: number; support: string; brand: string }
  | { ok: false; status: 404 | 410; title: string; said: string };

interface Marked {
  order: Id<'order'>;
  position: number;
  until: number;
}

/** What a link names, where its mark proves it. */
function readToken(app: App, token: string): Marked | null {
  const [, order = '', at = '', end = '', mark = ''] =
    /^(ord_[0-9a-z]{4,40})\.(\d{1,3})\.(\d{10,16})\.([0-9a-f]{40})$/.exec(token) ?? [];
  const [position, until] = [Number(at), Number(end)];
  if (!isId(order, 'order')) return null;
  const isOurs = timingSafeEqual(Buffer.from(markOf(app, order, position, until)), Buffer.from(mark));
  return isOurs ? { order, position, until } : null;
}

/** The line that a link is for, with its product and the file. */
function boughtBy(app: App, { order, position }: Marked) {
  const line = app.db
    .select({ l: orderLines })
    .from(orderLines)
    .innerJoin(orders, eq(orders.id, orderLines.order))
    .where(and(eq(orderLines.order, order), eq(orderLines.position, position)))
    .get()?.l;
  const product = line && productById(app, line.product);
  const file = product && fileOf(app, product.id, 'delivery');
  return line && product && file ? { line, product, file } : null;
}

function find(app: App, token: string): Found {
  const marked = readToken(app, token);
  const bought = marked && boughtBy(app, marked);
  if (!marked || !bought)
    return {
      ok: false,
      status: 404,
      title: 'This link leads nowhere',
      said: `It may have been copied incompletely. Ask ${contactsInWords(buyerContacts(app))}`,
    };
  const { line, product, file } = bought;
  const { until } = marked;
  const { brand, ...ways } = buyerContacts(app, detailsOf(product));
  const support = contactsInWords(ways);
  if (givenBack(line))
    return {
      ok: false,
      status: 410,
      title: 'This purchase was given back',
      said: `Its file is not available any more. Ask ${support}`,
    };
  if (app.clock.now() >= until)
    return {
      ok: false,
      status: 410,
      title: 'This link has expired',
      said: `It was good until ${formatMoment(until, theProgramme(app).zone)}. Ask for a new one: ${support}`,
    };
  return { ok: true, file, until, support, brand };
}

function refused(res: Response, found: Extract<Found, { ok: false }>): void {
  res
    .status(found.status)
    .type('html')
    .send(plainPage(found.title, `<p>${escapeHtml(found.said)}</p>`));
}

/** Hands out files to buyers: a page that says whose it is and until when, and the file itself. */
export function downloadRoutes(site: Site): void {
  const { server, app } = site;
  server.use('/get', (_req, res, next) => {
    res.set({ 'cache-control': 'no-store', 'referrer-policy': 'no-referrer', 'x-robots-tag': 'noindex' });
    next();
  });
  server.get('/get/:token', (req, res) => {
    const found = find(app, req.params.token);
    if (!found.ok) return refused(res, found);
    return res
      .type('html')
      .send(
        plainPage(
          found.file.name,
          `<p><a href="/get/${escapeHtml(req.params.token)}/file" style="font-size:20px">Download</a>, ${sizeInWords(found.file.size)}. This link is good until ${escapeHtml(formatMoment(found.until, theProgramme(app).zone))}.</p><p>From ${escapeHtml(found.brand)}. Does it not arrive? ${escapeHtml(found.support)}</p>`,
        ),
      );
  });
  server.get('/get/:token/file', (req, res) => {
    const found = find(app, req.params.token);
    if (!found.ok) return refused(res, found);
    // always saved, never shown: what somebody uploaded must not run as a page of this site
    return res
      .attachment(found.file.name)
      .type('application/octet-stream')
      .set('x-content-type-options', 'nosniff')
      .send(contentOf(app, found.file.id)!.content);
  });
}
