import type { Express } from 'express';
import { parseAmount, toDecimal } from '../../core/money/amount';
import { escape, page } from '../html';
import { tryCoupon, type Tried } from './coupons';
import type { Gravenel } from './gravenel';
import { cards, type Offer, type Purchase, type Records, type Shelf, type Told } from './records';
import { report } from './reports';

/** The form of the checkout, with what was typed before and what is wrong with it. */
const checkoutForm = (
  found: Shelf,
  values: Record<string, string>,
  fault: string,
) => `${fault ? `<p class="bad">${escape(fault)}</p>` : ''}<form class="line" method="post" action="/checkout/${escape(found.code)}">
  <input type="hidden" name="gvn" value="${escape(values.gvn ?? '')}"><input type="hidden" name="currency" value="${escape(values.currency ?? '')}"><label>Quantity <input name="quantity" type="number" min="1" max="99" value="${escape(values.quantity ?? '1')}"></label>
  <label>Your e-mail address <input name="buyer" type="email" required value="${escape(values.buyer ?? 'buyer@potlovers.example')}"></label>
  <label>Card <select name="card"><option value="${cards.pays}">${cards.pays} — pays</option><option value="${cards.refused}"${values.card === cards.refused ? ' selected' : ''}>${cards.refused} — is refused</option></select></label>
  <label class="check"><input type="checkbox" name="test" value="on"> a test, not paid</label> <label>Coupon <input name="coupon" size="12" value="${escape(values.coupon ?? '')}" placeholder="none"></label><input type="hidden" name="refused" value="${escape(values.refused ?? '')}"><button>Pay</button></form>`;

/** What a buyer is asked for: an amount of a currency, with the quote that holds it. */
interface Asked {
  value: string;
  currency: string;
  quote: string;
}

/** What is wrong with what a buyer typed, null where nothing is. */
function faultOf(body: Record<string, string>): string | null {
  const quantity = Number(body.quantity);
  if (!Number.isInteger(quantity) || quantity < 1 || quantity > 99)
    return 'The quantity must be a whole number from 1 to 99.';
  if (body.card?.replace(/\s/g, '') !== cards.pays.replace(/\s/g, ''))
    return 'The card was refused. Nothing was charged.';
  return null;
}

/** The price of this moment, and a unit kept for it; a shop that cannot ask sells at the price on its shelf. @returns a sentence where it is not sold now */
async function askedFor(
  found: Shelf,
  offer: Offer | null,
  body: Record<string, string>,
  { records, gravenel }: Sale,
): Promise<Asked | string> {
  const usual = {
    value: offer?.instalments?.[0] ?? found.price,
    currency: found.currency,
    quote: '',
  };
  if (!offer || !records.setting('key', '') || offer.instalments) return usual;
  const said = await gravenel.tell('quote', {
    product: found.code,
    quantity: Number(body.quantity),
    ...(body.currency ? { currency: body.currency } : {}),
  });
  return quoted(said) ?? usual;
}

/** What Gravenel answered to being asked for a price; null where it could not be asked. */
function quoted({ status, said }: Told): Asked | string | null {
  const answer = JSON.parse(said || '{}') as {
    quote?: string;
    price?: { value: string; currency: string };
    detail?: string;
  };
  if (status === 409) return answer.detail ?? 'It is not on sale now.';
  return answer.quote && answer.price ? { ...answer.price, quote: answer.quote } : null;
}

interface Sale {
  records: Records;
  gravenel: Gravenel;
}

/** The fallback picture for the order page, where a switch asks for it. */
function pictureOf(order: Omit<Purchase, 'picture'>, { records, gravenel }: Sale): string | null {
  if (!records.on('picture') && !records.on('onlypicture')) return null;
  const query = new URLSearchParams({
    order: order.reference,
    amount: order.amount,
    currency: order.currency,
    product: order.product,
    ...(order.visit ? { visit: order.visit } : {}),
  });
  const key = encodeURIComponent(records.setting('key', ''));
  return `${gravenel.address()}/px/${key}.gif?${query.toString()}`;
}

/** The visit that is passed on, unless a switch has it lost. */
const visitOf = (records: Records, body: Record<string, string>): string | null =>
  records.on('lose') ? null : body.gvn?.trim() || null;

/** What renews, or is paid in parts, is kept to be charged. */
function subscribe(
  db: Records['db'],
  number: number,
  order: Pick<Purchase, 'reference' | 'product' | 'placed_at' | 'buyer'>,
): void {
  db.prepare(
    'INSERT INTO subscriptions (reference, purchase, product, started_at, number, buyer) VALUES (?, ?, ?, ?, 1, ?)',
  ).run(`SUB-${number}`, order.reference, order.product, Date.parse(order.placed_at), order.buyer);
}

/** Keeps what was sold, with its marks, and what renews of it. @returns its reference */
async function sell(
  found: Shelf,
  offer: Offer | null,
  body: Record<string, string>,
  sale: Sale & { asked: Asked; total: number; tried: Tried },
): Promise<string> {
  const { records, gravenel, asked } = sale;
  const number = records.nextNumber();
  const reference = `Q-${number}`;
  const placedAt = await gravenel.today();
  if (asked.quote) records.setMark('quote', reference, asked.quote);
  if (body.test === 'on') records.setMark('test', reference, 'on');
  if (body.refused) records.setMark('refused-coupon', reference, body.refused);
  if (sale.tried.state === 'taken') {
    records.setMark('coupon', reference, sale.tried.code);
    records.setMark('off', reference, toDecimal(sale.tried.off, asked.currency));
  }
  const order = {
    reference,
    at: Date.now(),
    product: found.code,
    name: found.name,
    quantity: Number(body.quantity),
    amount: toDecimal(sale.total, asked.currency),
    currency: asked.currency,
    buyer: body.buyer ?? '',
    visit: visitOf(records, body),
    placed_at: placedAt,
    reports: '[]',
    waiting: records.on('late') ? 1 : 0,
    refunds: '[]',
  };
  if (offer?.recurring || offer?.instalments) subscribe(records.db, number, order);
  records.add({ ...order, picture: pictureOf(order, sale) });
  return reference;
}

/** Paying, and asking for something that is free. */
export function checkoutPages(server: Express, records: Records, gravenel: Gravenel): void {
  const sale = { records, gravenel };
  server.get('/checkout/:code', (req, res) => {
    const found = records.item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const query = req.query as Record<string, string>;
    return res.send(page('Shop', `Pay for ${found.name}`, checkoutForm(found, query, '')));
  });
  server.post('/checkout/:code', async (req, res) => {
    const found = records.item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const body = req.body as Record<string, string>;
    const again = (fault: string) =>
      res.status(402).send(page('Shop', `Pay for ${found.name}`, checkoutForm(found, body, fault)));
    const fault = faultOf(body);
    if (fault) return again(fault);
    const offer = await gravenel.offerOf(found.code);
    const asked = await askedFor(found, offer, body, sale);
    if (typeof asked === 'string') return again(asked);
    const price = parseAmount(asked.value, asked.currency);
    if (!price.ok) return again(price.reason);
    const total = price.value * Number(body.quantity);
    const tried = tryCoupon(records.db, body.coupon ?? '', total, asked.currency);
    if (tried.state === 'refused') {
      Object.assign(body, { coupon: '', refused: tried.code });
      return again(`${tried.code} is not taken here. Pay without it, or try another code.`);
    }
    const reference = await sell(found, offer, body, { ...sale, asked, total, tried });
    if (!records.on('late') && !records.on('onlypicture'))
      await report(records, gravenel, records.purchase(reference)!);
    return res.redirect(303, offer?.first ? `/offers/${reference}/${offer.first}` : `/orders/${reference}`);
  });
  server.post('/leads/:code', async (req, res) => {
    const found = records.item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const body = req.body as Record<string, string>;
    const visit = body.gvn?.trim() ?? '';
    const told = await gravenel.tell('lead', {
      lead: `L-${records.nextNumber()}`,
      product: found.code,
      at: await gravenel.today(),
      ...(visit && !records.on('lose') ? { visit } : {}),
      customer: { email: body.buyer ?? '' },
    });
    return res.send(
      page(
        'Shop',
        'It is on its way to you',
        `<p>${escape(found.name)} is sent to ${escape(body.buyer ?? '')}.</p><h2>What Gravenel answered</h2><p>leads → <b>${told.status}</b></p><pre>${escape(told.said)}</pre>`,
      ),
    );
  });
}
