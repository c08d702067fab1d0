import type { Express } from 'express';
import { parseAmount, toDecimal } from '../../core/money/amount';
import { isCurrency } from '../../core/money/currency';
import { escape, page } from '../html';
import { couponNote } from './coupons';
import type { Gravenel } from './gravenel';
import type { Offer, Priced, Purchase, Records, Shelf } from './records';

const shelfForm = (code: string) =>
  `<form class="line" method="post" action="/shelf"><label>Code <input name="code" value="${escape(code)}" required></label><label>Name <input name="name" required></label><label>Price <input name="price" required placeholder="199.00"></label><label>Currency <input name="currency" value="EUR" size="4" required></label><button>Put on the shelf</button></form>`;

const snippetOf = (gravenel: Gravenel) =>
  `<script src="${escape(gravenel.address())}/gravenel.js" async></script>`;

/** The shelf, what was put on it, and a page for each product. */
export function shelfPages(
  server: Express,
  records: Records,
  gravenel: Gravenel,
  chargeDue: () => Promise<void>,
): void {
  const { db } = records;
  server.get('/', async (_req, res) => {
    await chargeDue();
    const rows = db.prepare('SELECT * FROM shelf ORDER BY name').all() as Shelf[];
    const sold = db
      .prepare('SELECT reference, name, amount, currency, waiting FROM purchases ORDER BY at DESC LIMIT 20')
      .all() as Purchase[];
    res.send(page('Shop', 'On the shelf', shelfTables(rows, sold), snippetOf(gravenel)));
  });
  server.post('/shelf', (req, res) => {
    const { code = '', name = '', price = '', currency = '' } = req.body as Record<string, string>;
    const parsed = isCurrency(currency) ? parseAmount(price, currency) : null;
    if (!code.trim() || !name.trim() || !parsed?.ok)
      return res.status(422).send(page('Shop', 'Not taken', notTaken));
    db.prepare(
      'INSERT INTO shelf VALUES (?, ?, ?, ?) ON CONFLICT (code) DO UPDATE SET name = excluded.name, price = excluded.price, currency = excluded.currency',
    ).run(code.trim().toUpperCase(), name.trim(), toDecimal(parsed.value, currency), currency);
    return res.redirect(303, `/p/${encodeURIComponent(code.trim().toUpperCase())}`);
  });
  server.get('/p/:code', async (req, res) => {
    const { code } = req.params;
    const found = records.item(code);
    if (!found)
      return res.status(404).send(page('Shop', 'Not on the shelf yet', notThere(code), snippetOf(gravenel)));
    const offer = await gravenel.offerOf(found.code, req.get('accept-language'));
    const [visit, coupon] = [textOf(req.query.gvn), textOf(req.query.coupon)];
    const body =
      offer?.kind === 'free'
        ? freePage(found, visit)
        : productPage(found, offer, { visit, coupon, note: couponNote(db, coupon) });
    return res.send(page('Shop', found.name, body, snippetOf(gravenel)));
  });
}

const notTaken =
  '<p class="bad">A code, a name, a known currency and a price with its digits are needed.</p><p><a href="/">Back</a></p>';

const notThere = (code: string) =>
  `<p>The shop sells nothing under ${escape(code)}.</p>${shelfForm(code.toUpperCase())}`;

const shelfTables = (rows: Shelf[], sold: Purchase[]) =>
  `<table>${rows.map((s) => `<tr><td><a href="/p/${escape(s.code)}">${escape(s.name)}</a><td>${escape(s.code)}<td class="r">${escape(s.price)} ${escape(s.currency)}</tr>`).join('')}</table>${rows.length ? '' : '<p>The shelf is empty.</p>'}
      <h2>Put something on the shelf</h2>${shelfForm('')}
      <h2>Last orders</h2><table>${sold.map((p) => `<tr><td><a href="/orders/${escape(p.reference)}">${escape(p.reference)}</a><td>${escape(p.name)}<td class="r">${escape(p.amount)} ${escape(p.currency)}<td>${p.waiting ? 'report waits' : ''}</tr>`).join('')}</table>`;

const freePage = (found: Shelf, visit: string) =>
  `<p style="font-size:22px">free</p><form class="line" method="post" action="/leads/${escape(found.code)}"><input type="hidden" name="gvn" value="${escape(visit)}"><label>Your e-mail address <input name="buyer" type="email" required value="buyer@potlovers.example"></label><button>Send it to me</button></form>`;

const priced = (p: Priced) => `${escape(p.value)} ${escape(p.currency)}`;

/** What follows the first payment, in words. */
function termsOf(offer: Offer | null, currency: string): string {
  const plan = offer?.recurring;
  if (plan) {
    const every = plan.interval === 'days' ? `${plan.intervalDays} days` : plan.interval;
    const first = plan.trialDays ? `, first after ${plan.trialDays} days` : '';
    return `<p>then ${escape(plan.renewalPrice)} ${escape(currency)} every ${every}${first}</p>`;
  }
  const parts = offer?.instalments;
  return parts ? `<p>in ${parts.length} payments: ${parts.map(escape).join(', ')}</p>` : '';
}

function stockOf(offer: Offer | null): string {
  if (!offer) return '';
  const left =
    offer.left === null
      ? ''
      : `<p class="note">${offer.left} left${offer.left === 0 ? ': sold out' : ' at this price'}</p>`;
  return `${left}${offer.onSale ? '' : '<p class="bad">Not on sale now.</p>'}`;
}

/** The prices that a product is sold at, the usual one first; what is paid in parts is paid in one currency. */
function pricesOf(found: Shelf, offer: Offer | null): [Priced, ...Priced[]] {
  const asked = offer && !offer.instalments && !offer.recurring ? offer.asked : [];
  const [first, ...others] = asked;
  return [first ?? offer?.price ?? { value: found.price, currency: found.currency }, ...others];
}

/** What the link handed over: the visit, and a coupon with what is said of it. */
interface Handed {
  visit: string;
  coupon: string;
  note: string;
}

const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');

function productPage(found: Shelf, offer: Offer | null, { visit, coupon, note }: Handed): string {
  const [price, ...others] = pricesOf(found, offer);
  const picture = offer ? `<img src="${escape(offer.picture)}" alt="" width="160">` : '';
  const also = others.length ? `<p class="note">or ${others.map(priced).join(', ')}</p>` : '';
  const choice = others.length
    ? `<label>Currency <select name="currency">${[price, ...others].map((p) => `<option>${escape(p.currency)}</option>`).join('')}</select></label>`
    : '';
  return `${picture}<p style="font-size:22px">${priced(price)}</p>${also}${termsOf(offer, price.currency)}${stockOf(offer)}${note}
      <form class="line" action="/checkout/${escape(found.code)}"><input type="hidden" name="gvn" value="${escape(visit)}"><input type="hidden" name="coupon" value="${escape(coupon)}"><label>Quantity <input type="number" name="quantity" value="1" min="1" max="99"></label>${choice}<button>Buy</button></form>`;
}
