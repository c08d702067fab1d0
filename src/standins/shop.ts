import { randomUUID } from 'node:crypto';
import type { Express } from 'express';
import { parseAmount, toDecimal } from '../core/money/amount';
import { isCurrency } from '../core/money/currency';
import { escape, page } from './html';
import { signHeaders } from './signing';
import type { StandinDb } from './store';
import { readSwitch, setSwitch } from './store';

/** Made-up test cards: the first pays, the second is refused. */
export const cards = { pays: '1000 2000 3000 4000', refused: '1000 2000 3000 9999' };

export interface ShopOptions {
  /** Gravenel's address, used until the shop's switches say another */
  gravenel: string;
}

interface Shelf { code: string; name: string; price: string; currency: string }
interface Told { call: string; status: number; said: string }
interface Refund { reference: string; amount: string; full: boolean }
interface Purchase {
  reference: string; at: number; product: string; name: string; quantity: number; amount: string; currency: string; buyer: string; visit: string | null; placed_at: string;
  reports: string; picture: string | null; waiting: number; refunds: string;
}

const switchNames = { twice: 'report every order twice', late: 'report late: orders wait until sent by hand', picture: 'report by the fallback picture as well', onlypicture: 'report by the fallback picture only', lose: 'lose the click: the visit is not passed on', omit: 'leave out the currency' };

/** The shop: product page, checkout, order page with refunds. It speaks to Gravenel by the tracking contract and nothing else. */
export function shopPages(server: Express, db: StandinDb, options: ShopOptions): void {
  const setting = (name: string, otherwise: string) => readSwitch(db, name) || otherwise;
  const gravenel = () => setting('gravenel', options.gravenel);
  const on = (name: keyof typeof switchNames) => readSwitch(db, `shop-${name}`) === 'on';
  const item = (code: string) => db.prepare('SELECT * FROM shelf WHERE code = ?').get(code.toUpperCase()) as Shelf | undefined;
  const purchase = (reference: string) => db.prepare('SELECT * FROM purchases WHERE reference = ?').get(reference) as Purchase | undefined;
  const snippet = () => `<script src="${escape(gravenel())}/gravenel.js" async></script>`;

  /** The shop's date: the demo clock's where there is one, so that orders and visits share a calendar. */
  async function today(): Promise<string> {
    try {
      const answer = await fetch(`${gravenel()}/api/v1/clock`, { signal: AbortSignal.timeout(5000) });
      return new Date((await answer.json() as { now: number }).now).toISOString();
    } catch {
      return new Date().toISOString();
    }
  }

  async function tell(call: 'orders' | 'refunds', body: object): Promise<Told> {
    const text = JSON.stringify(body);
    try {
      const answer = await fetch(`${gravenel()}/api/track/v1/${call}`, {
        method: 'POST', body: text, signal: AbortSignal.timeout(10_000),
        headers: { 'content-type': 'application/json', ...signHeaders({ key: setting('key', ''), secret: setting('secret', ''), id: `msg_${randomUUID()}`, timestamp: String(Math.floor(Date.now() / 1000)), body: text }) },
      });
      return { call, status: answer.status, said: await answer.text() };
    } catch (fault) {
      return { call, status: 0, said: fault instanceof Error ? fault.message : 'no answer' };
    }
  }

  function note(reference: string, told: Told[]): void {
    const row = purchase(reference);
    if (row) db.prepare('UPDATE purchases SET reports = ?, waiting = 0 WHERE reference = ?').run(JSON.stringify([...JSON.parse(row.reports) as Told[], ...told]), reference);
  }

  async function report(row: Purchase): Promise<void> {
    const body = {
      order: row.reference, placedAt: row.placed_at, ...(on('omit') ? {} : { currency: row.currency }), lines: [{ product: row.product, quantity: row.quantity, amount: row.amount }],
      ...(row.visit ? { visit: row.visit } : {}), customer: { email: row.buyer },
    };
    const told = [await tell('orders', body)];
    if (on('twice')) told.push(await tell('orders', body));
    note(row.reference, told);
  }

  server.get('/', (_req, res) => {
    const rows = db.prepare('SELECT * FROM shelf ORDER BY name').all() as Shelf[];
    const sold = db.prepare('SELECT reference, name, amount, currency, waiting FROM purchases ORDER BY at DESC LIMIT 20').all() as Purchase[];
    res.send(page('Shop', 'On the shelf', `<table>${rows.map((s) => `<tr><td><a href="/p/${escape(s.code)}">${escape(s.name)}</a><td>${escape(s.code)}<td class="r">${escape(s.price)} ${escape(s.currency)}</tr>`).join('')}</table>${rows.length ? '' : '<p>The shelf is empty.</p>'}
      <h2>Put something on the shelf</h2>${shelfForm('')}
      <h2>Last orders</h2><table>${sold.map((p) => `<tr><td><a href="/orders/${escape(p.reference)}">${escape(p.reference)}</a><td>${escape(p.name)}<td class="r">${escape(p.amount)} ${escape(p.currency)}<td>${p.waiting ? 'report waits' : ''}</tr>`).join('')}</table>`, snippet()));
  });
  const shelfForm = (code: string) => `<form class="line" method="post" action="/shelf"><label>Code <input name="code" value="${escape(code)}" required></label><label>Name <input name="name" required></label><label>Price <input name="price" required placeholder="199.00"></label><label>Currency <input name="currency" value="EUR" size="4" required></label><button>Put on the shelf</button></form>`;
  server.post('/shelf', (req, res) => {
    const { code = '', name = '', price = '', currency = '' } = req.body as Record<string, string>;
    const parsed = isCurrency(currency) ? parseAmount(price, currency) : null;
    if (!code.trim() || !name.trim() || !parsed?.ok) return res.status(422).send(page('Shop', 'Not taken', '<p class="bad">A code, a name, a known currency and a price with its digits are needed.</p><p><a href="/">Back</a></p>'));
    db.prepare('INSERT INTO shelf VALUES (?, ?, ?, ?) ON CONFLICT (code) DO UPDATE SET name = excluded.name, price = excluded.price, currency = excluded.currency').run(code.trim().toUpperCase(), name.trim(), toDecimal(parsed.value, currency), currency);
    return res.redirect(303, `/p/${encodeURIComponent(code.trim().toUpperCase())}`);
  });
  server.get('/p/:code', (req, res) => {
    const found = item(req.params.code);
    if (!found) return res.status(404).send(page('Shop', 'Not on the shelf yet', `<p>The shop sells nothing under ${escape(req.params.code)}.</p>${shelfForm(req.params.code.toUpperCase())}`, snippet()));
    const visit = typeof req.query.gvn === 'string' ? req.query.gvn : '';
    return res.send(page('Shop', found.name, `<p style="font-size:22px">${escape(found.price)} ${escape(found.currency)}</p>
      <form class="line" action="/checkout/${escape(found.code)}"><input type="hidden" name="gvn" value="${escape(visit)}"><label>Quantity <input type="number" name="quantity" value="1" min="1" max="99"></label><button>Buy</button></form>`, snippet()));
  });
  server.get('/checkout/:code', (req, res) => {
    const found = item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const query = req.query as Record<string, string>;
    return res.send(page('Shop', `Pay for ${found.name}`, checkoutForm(found, query, '')));
  });
  const checkoutForm = (found: Shelf, values: Record<string, string>, fault: string) => `${fault ? `<p class="bad">${escape(fault)}</p>` : ''}<form class="line" method="post" action="/checkout/${escape(found.code)}">
    <input type="hidden" name="gvn" value="${escape(values.gvn ?? '')}"><label>Quantity <input name="quantity" type="number" min="1" max="99" value="${escape(values.quantity ?? '1')}"></label>
    <label>Your e-mail address <input name="buyer" type="email" required value="${escape(values.buyer ?? 'buyer@potlovers.example')}"></label>
    <label>Card <select name="card"><option value="${cards.pays}">${cards.pays} — pays</option><option value="${cards.refused}"${values.card === cards.refused ? ' selected' : ''}>${cards.refused} — is refused</option></select></label>
    <label>Discount <input name="discount" size="8" value="${escape(values.discount ?? '')}" placeholder="none"></label><button>Pay</button></form>`;
  server.post('/checkout/:code', async (req, res) => {
    const found = item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const body = req.body as Record<string, string>;
    const quantity = Number(body.quantity);
    const again = (fault: string) => res.status(402).send(page('Shop', `Pay for ${found.name}`, checkoutForm(found, body, fault)));
    if (!Number.isInteger(quantity) || quantity < 1 || quantity > 99) return again('The quantity must be a whole number from 1 to 99.');
    if (body.card?.replace(/\s/g, '') !== cards.pays.replace(/\s/g, '')) return again('The card was refused. Nothing was charged.');
    const price = parseAmount(found.price, found.currency);
    if (!price.ok) return again(price.reason);
    const number = 10_000 + (db.prepare('SELECT count(*) FROM purchases').pluck().get() as number) + 1;
    const reference = `Q-${number}`;
    const placedAt = await today();
    const amount = toDecimal(price.value * quantity, found.currency);
    const visit = on('lose') ? null : body.gvn?.trim() || null;
    const picture = on('picture') || on('onlypicture')
      ? `${gravenel()}/px/${encodeURIComponent(setting('key', ''))}.gif?${new URLSearchParams({ order: reference, amount, currency: found.currency, product: found.code, ...(visit ? { visit } : {}) }).toString()}` : null;
    db.prepare('INSERT INTO purchases VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)')
      .run(reference, Date.now(), found.code, found.name, quantity, amount, found.currency, body.buyer ?? '', visit, placedAt, '[]', picture, on('late') ? 1 : 0, '[]');
    if (!on('late') && !on('onlypicture')) await report(purchase(reference)!);
    return res.redirect(303, `/orders/${reference}`);
  });
  server.get('/orders/:reference', (req, res) => {
    const row = purchase(req.params.reference);
    if (!row) return res.status(404).send(page('Shop', 'No such order', ''));
    const told = JSON.parse(row.reports) as Told[];
    const refunds = JSON.parse(row.refunds) as Refund[];
    res.send(page('Shop', `Order ${row.reference}`, `<p>${row.quantity} × ${escape(row.name)}, ${escape(row.amount)} ${escape(row.currency)}, paid by ${escape(row.buyer)} · visit ${escape(row.visit ?? 'none')}</p>
      ${row.picture ? `<img src="${escape(row.picture)}" width="1" height="1" alt="">` : ''}
      ${row.waiting ? `<form class="line" method="post" action="/orders/${escape(row.reference)}/report"><button>Report this order now</button></form>` : ''}
      <h2>Refund</h2><form class="line" method="post" action="/orders/${escape(row.reference)}/refund"><label>Amount, empty for the whole <input name="amount" placeholder="${escape(row.amount)}"></label>
      <label>Kind <select name="kind"><option>refund</option><option>chargeback</option></select></label><button>Give back</button></form>
      ${refunds.length ? `<p>${refunds.map((r) => `${escape(r.reference)}: ${r.full ? 'the whole' : `${escape(r.amount)} ${escape(row.currency)}`}`).join(', ')}</p>` : ''}
      <h2>What Gravenel answered</h2>${told.map((t) => `<p>${escape(t.call)} → <b>${t.status}</b></p><pre>${escape(t.said)}</pre>`).join('') || '<p class="note">Nothing was reported by the server yet.</p>'}`));
  });
  server.post('/orders/:reference/report', async (req, res) => {
    const row = purchase(req.params.reference);
    if (row) await report(row);
    res.redirect(303, `/orders/${encodeURIComponent(req.params.reference)}`);
  });
  server.post('/orders/:reference/refund', async (req, res) => {
    const row = purchase(req.params.reference);
    if (!row) return res.redirect(303, '/');
    const { amount = '', kind = 'refund' } = req.body as Record<string, string>;
    const before = JSON.parse(row.refunds) as Refund[];
    const refund: Refund = { reference: `R-${row.reference}-${before.length + 1}`, amount: amount.trim(), full: amount.trim() === '' };
    db.prepare('UPDATE purchases SET refunds = ? WHERE reference = ?').run(JSON.stringify([...before, refund]), row.reference);
    const body = { refund: refund.reference, order: row.reference, at: await today(), kind, ...(refund.full ? { full: true } : { lines: [{ product: row.product, amount: refund.amount }] }) };
    const told = [await tell('refunds', body)];
    if (on('twice')) told.push(await tell('refunds', body));
    note(row.reference, told);
    return res.redirect(303, `/orders/${encodeURIComponent(row.reference)}`);
  });
  server.get('/switches', (_req, res) => {
    const box = ([name, text]: [string, string]) => `<label class="check"><input type="checkbox" name="shop-${name}" value="on"${readSwitch(db, `shop-${name}`) === 'on' ? ' checked' : ''}> ${text}</label>`;
    res.send(page('Shop', 'Switches', `<form method="post" action="/switches"><h2>Connection to Gravenel</h2>
      <p class="line"><label>Address <input name="gravenel" size="40" value="${escape(gravenel())}"></label><label>Key <input name="key" size="30" value="${escape(setting('key', ''))}"></label><label>Secret <input name="secret" size="50" value="${escape(setting('secret', ''))}" autocomplete="off"></label></p>
      <h2>How it behaves</h2>${Object.entries(switchNames).map(box).join('')}<p><button>Keep</button></p></form>`));
  });
  server.post('/switches', (req, res) => {
    const body = req.body as Record<string, string>;
    for (const name of Object.keys(switchNames)) setSwitch(db, `shop-${name}`, body[`shop-${name}`] ?? '');
    for (const name of ['gravenel', 'key', 'secret']) if (body[name] !== undefined) setSwitch(db, name, body[name].trim().replace(/\/+$/, ''));
    res.redirect(303, '/switches');
  });
}
