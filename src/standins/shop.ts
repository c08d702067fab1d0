import { randomUUID } from 'node:crypto';
import type { Express } from 'express';
import { parseAmount, toDecimal } from '../core/money/amount';
import { isCurrency } from '../core/money/currency';
import { renewalMoment, type Interval } from '../core/pricing/product';
import { escape, page } from './html';
import { signHeaders } from './signing';
import { readSwitch, setSwitch, type StandinDb } from './store';

/** Made-up test cards: the first pays, the second is refused. */
export const cards = { pays: '1000 2000 3000 4000', refused: '1000 2000 3000 9999' };

export interface ShopOptions {
  /** Gravenel's address, used until the shop's switches say another */
  gravenel: string;
}

interface Shelf {
  code: string;
  name: string;
  price: string;
  currency: string;
}
/** What Gravenel says of a product, as far as the shop needs it. */
interface Offer {
  picture: string;
  brand: string;
  support: { address: string; page: string; phone: string };
  name: string;
  kind: string;
  onSale: boolean;
  price: { value: string; currency: string } | null;
  asked: { value: string; currency: string }[];
  left: number | null;
  receiptNote: string;
  delivery: string;
  accessPage: string;
  accessParameters: string[];
  recurring: {
    trialDays: number;
    renewalPrice: string;
    interval: Interval;
    intervalDays: number;
    renewals: number | null;
    name: string;
  } | null;
  instalments: string[] | null;
  steps: {
    code: string;
    product: string;
    name: string;
    price: string;
    currency: string;
    onYes: string | null;
    onNo: string | null;
  }[];
  first: string | null;
}
interface Subscription {
  reference: string;
  purchase: string;
  product: string;
  started_at: number;
  number: number;
  buyer: string;
  ended: number;
}
interface Told {
  call: string;
  status: number;
  said: string;
}
interface Refund {
  reference: string;
  amount: string;
  full: boolean;
}
interface Purchase {
  reference: string;
  at: number;
  product: string;
  name: string;
  quantity: number;
  amount: string;
  currency: string;
  buyer: string;
  visit: string | null;
  placed_at: string;
  reports: string;
  picture: string | null;
  waiting: number;
  refunds: string;
}

const switchNames = {
  twice: 'report every order twice',
  late: 'report late: orders wait until sent by hand',
  picture: 'report by the fallback picture as well',
  onlypicture: 'report by the fallback picture only',
  lose: 'lose the click: the visit is not passed on',
  omit: 'leave out the currency',
};

/** The shop: product page, checkout, order page with refunds. It speaks to Gravenel by the tracking contract and nothing else. */
export function shopPages(server: Express, db: StandinDb, options: ShopOptions): void {
  const setting = (name: string, otherwise: string) => readSwitch(db, name) || otherwise;
  const gravenel = () => setting('gravenel', options.gravenel);
  const on = (name: keyof typeof switchNames) => readSwitch(db, `shop-${name}`) === 'on';
  const item = (code: string) =>
    db.prepare('SELECT * FROM shelf WHERE code = ?').get(code.toUpperCase()) as Shelf | undefined;
  const purchase = (reference: string) =>
    db.prepare('SELECT * FROM purchases WHERE reference = ?').get(reference) as Purchase | undefined;
  const snippet = () => `<script src="${escape(gravenel())}/gravenel.js" async></script>`;

  /** The shop's date: the demo clock's where there is one, so that orders and visits share a calendar. */
  async function today(): Promise<string> {
    try {
      const answer = await fetch(`${gravenel()}/api/v1/clock`, { signal: AbortSignal.timeout(5000) });
      return new Date(((await answer.json()) as { now: number }).now).toISOString();
    } catch {
      return new Date().toISOString();
    }
  }

  async function tell(
    call: 'orders' | 'refunds' | 'renewals' | 'leads' | 'quotes',
    body: object,
  ): Promise<Told> {
    const text = JSON.stringify(body);
    try {
      const answer = await fetch(`${gravenel()}/api/track/v1/${call}`, {
        method: 'POST',
        body: text,
        signal: AbortSignal.timeout(10_000),
        headers: {
          'content-type': 'application/json',
          ...signHeaders({
            key: setting('key', ''),
            secret: setting('secret', ''),
            id: `msg_${randomUUID()}`,
            timestamp: String(Math.floor(Date.now() / 1000)),
            body: text,
          }),
        },
      });
      return { call, status: answer.status, said: await answer.text() };
    } catch (fault) {
      return { call, status: 0, said: fault instanceof Error ? fault.message : 'no answer' };
    }
  }

  /** What Gravenel says of a product now, or null where it does not know it or does not answer. */
  async function offerOf(code: string, language = ''): Promise<Offer | null> {
    try {
      const answer = await fetch(`${gravenel()}/api/open/v1/products/${encodeURIComponent(code)}`, {
        signal: AbortSignal.timeout(5000),
        headers: { 'accept-language': language || '*' },
      });
      return answer.ok ? ((await answer.json()) as Offer) : null;
    } catch {
      return null;
    }
  }

  /** What Gravenel would offer after what was bought. */
  async function confirmationFor(bought: string[]): Promise<
    {
      code: string;
      name: string;
      price: { value: string; currency: string } | null;
      page: string;
      picture: string;
    }[]
  > {
    try {
      const answer = await fetch(
        `${gravenel()}/api/open/v1/confirmation?${new URLSearchParams({ bought: bought.join(',') }).toString()}`,
        { signal: AbortSignal.timeout(5000) },
      );
      return answer.ok ? ((await answer.json()) as { offers: [] }).offers : [];
    } catch {
      return [];
    }
  }

  /** Links to files among what Gravenel answered to reports. */
  const downloadsIn = (told: Told[]) =>
    new Map(
      told
        .filter((t) => t.status === 200 || t.status === 201)
        .flatMap(
          (t) =>
            (JSON.parse(t.said) as { downloads?: { name: string; url: string; until: string }[] })
              .downloads ?? [],
        )
        .map((d) => [d.url, d]),
    );

  let charging = false;
  /** Charges every renewal that has fallen due by the shop's date, and reports each. */
  async function chargeDue(): Promise<void> {
    if (charging) return;
    charging = true;
    try {
      const now = Date.parse(await today());
      const open = db.prepare('SELECT * FROM subscriptions WHERE ended = 0').all() as Subscription[];
      for (const s of open) await chargeOne(s, now);
    } finally {
      charging = false;
    }
  }

  async function chargeOne(s: Subscription, now: number): Promise<void> {
    const offer = await offerOf(s.product);
    const row = purchase(s.purchase);
    if (!offer || !row) return;
    const plan = offer.recurring;
    for (let number = s.number + 1; ; number += 1) {
      const more = plan
        ? plan.renewals === null || number <= plan.renewals + 1
        : offer.instalments !== null && number <= offer.instalments.length;
      const due = renewalMoment(
        s.started_at,
        plan ?? { trialDays: 0, interval: 'month', intervalDays: 30 },
        number,
        'UTC',
      );
      if (!more) {
        db.prepare('UPDATE subscriptions SET ended = 1 WHERE reference = ?').run(s.reference);
        return;
      }
      if (due > now) return;
      const amount = plan ? plan.renewalPrice : offer.instalments![number - 1]!;
      const told = await tell('renewals', {
        subscription: s.reference,
        payment: `${s.purchase}-${number}`,
        number,
        placedAt: new Date(due).toISOString(),
        currency: row.currency,
        lines: [{ product: s.product, quantity: 1, amount }],
      });
      note(s.purchase, [told]);
      // what did not arrive is tried again the next time
      if (told.status === 0 || told.status >= 500) return;
      db.prepare('UPDATE subscriptions SET number = ? WHERE reference = ?').run(number, s.reference);
    }
  }
  setInterval(() => {
    void chargeDue().catch(() => undefined);
  }, 5_000).unref();

  function note(reference: string, told: Told[]): void {
    const row = purchase(reference);
    if (row)
      db.prepare('UPDATE purchases SET reports = ?, waiting = 0 WHERE reference = ?').run(
        JSON.stringify([...(JSON.parse(row.reports) as Told[]), ...told]),
        reference,
      );
  }

  const subscriptionOf = (reference: string) =>
    db.prepare('SELECT reference FROM subscriptions WHERE purchase = ?').pluck().get(reference) as
      string | undefined;
  /** What a purchase was marked with at checkout, beside the columns of its table: a test, its step of a funnel. */
  const extras = (reference: string): { test?: boolean } =>
    readSwitch(db, `test-${reference}`) === 'on' ? { test: true } : {};
  const lineExtras = (reference: string): { step?: string; quote?: string } => ({
    ...(readSwitch(db, `step-${reference}`) ? { step: readSwitch(db, `step-${reference}`) } : {}),
    ...(readSwitch(db, `quote-${reference}`) ? { quote: readSwitch(db, `quote-${reference}`) } : {}),
  });

  async function report(row: Purchase): Promise<void> {
    const body = {
      order: row.reference,
      placedAt: row.placed_at,
      ...(on('omit') ? {} : { currency: row.currency }),
      lines: [
        { product: row.product, quantity: row.quantity, amount: row.amount, ...lineExtras(row.reference) },
      ],
      ...(row.visit ? { visit: row.visit } : {}),
      customer: { email: row.buyer },
      ...(subscriptionOf(row.reference) ? { subscription: subscriptionOf(row.reference) } : {}),
      ...extras(row.reference),
    };
    const told = [await tell('orders', body)];
    if (on('twice')) told.push(await tell('orders', body));
    note(row.reference, told);
  }

  server.get('/', async (_req, res) => {
    await chargeDue();
    const rows = db.prepare('SELECT * FROM shelf ORDER BY name').all() as Shelf[];
    const sold = db
      .prepare('SELECT reference, name, amount, currency, waiting FROM purchases ORDER BY at DESC LIMIT 20')
      .all() as Purchase[];
    res.send(
      page(
        'Shop',
        'On the shelf',
        `<table>${rows.map((s) => `<tr><td><a href="/p/${escape(s.code)}">${escape(s.name)}</a><td>${escape(s.code)}<td class="r">${escape(s.price)} ${escape(s.currency)}</tr>`).join('')}</table>${rows.length ? '' : '<p>The shelf is empty.</p>'}
      <h2>Put something on the shelf</h2>${shelfForm('')}
      <h2>Last orders</h2><table>${sold.map((p) => `<tr><td><a href="/orders/${escape(p.reference)}">${escape(p.reference)}</a><td>${escape(p.name)}<td class="r">${escape(p.amount)} ${escape(p.currency)}<td>${p.waiting ? 'report waits' : ''}</tr>`).join('')}</table>`,
        snippet(),
      ),
    );
  });
  const shelfForm = (code: string) =>
    `<form class="line" method="post" action="/shelf"><label>Code <input name="code" value="${escape(code)}" required></label><label>Name <input name="name" required></label><label>Price <input name="price" required placeholder="199.00"></label><label>Currency <input name="currency" value="EUR" size="4" required></label><button>Put on the shelf</button></form>`;
  server.post('/shelf', (req, res) => {
    const { code = '', name = '', price = '', currency = '' } = req.body as Record<string, string>;
    const parsed = isCurrency(currency) ? parseAmount(price, currency) : null;
    if (!code.trim() || !name.trim() || !parsed?.ok)
      return res
        .status(422)
        .send(
          page(
            'Shop',
            'Not taken',
            '<p class="bad">A code, a name, a known currency and a price with its digits are needed.</p><p><a href="/">Back</a></p>',
          ),
        );
    db.prepare(
      'INSERT INTO shelf VALUES (?, ?, ?, ?) ON CONFLICT (code) DO UPDATE SET name = excluded.name, price = excluded.price, currency = excluded.currency',
    ).run(code.trim().toUpperCase(), name.trim(), toDecimal(parsed.value, currency), currency);
    return res.redirect(303, `/p/${encodeURIComponent(code.trim().toUpperCase())}`);
  });
  server.get('/p/:code', async (req, res) => {
    const found = item(req.params.code);
    const offer = found ? await offerOf(found.code, req.get('accept-language')) : null;
    if (!found)
      return res
        .status(404)
        .send(
          page(
            'Shop',
            'Not on the shelf yet',
            `<p>The shop sells nothing under ${escape(req.params.code)}.</p>${shelfForm(req.params.code.toUpperCase())}`,
            snippet(),
          ),
        );
    const visit = typeof req.query.gvn === 'string' ? req.query.gvn : '';
    if (offer?.kind === 'free') {
      return res.send(
        page(
          'Shop',
          found.name,
          `<p style="font-size:22px">free</p><form class="line" method="post" action="/leads/${escape(found.code)}"><input type="hidden" name="gvn" value="${escape(visit)}"><label>Your e-mail address <input name="buyer" type="email" required value="buyer@potlovers.example"></label><button>Send it to me</button></form>`,
          snippet(),
        ),
      );
    }
    // what is paid in parts is paid in one currency
    const whole = offer && !offer.instalments && !offer.recurring ? offer.asked : [];
    const price = whole[0] ?? offer?.price ?? { value: found.price, currency: found.currency };
    const others = whole.slice(1);
    const terms = offer?.recurring
      ? `<p>then ${escape(offer.recurring.renewalPrice)} ${escape(price.currency)} every ${offer.recurring.interval === 'days' ? `${offer.recurring.intervalDays} days` : offer.recurring.interval}${offer.recurring.trialDays ? `, first after ${offer.recurring.trialDays} days` : ''}</p>`
      : offer?.instalments
        ? `<p>in ${offer.instalments.length} payments: ${offer.instalments.map(escape).join(', ')}</p>`
        : '';
    return res.send(
      page(
        'Shop',
        found.name,
        `${offer ? `<img src="${escape(offer.picture)}" alt="" width="160">` : ''}<p style="font-size:22px">${escape(price.value)} ${escape(price.currency)}</p>${others.length ? `<p class="note">or ${others.map((p) => `${escape(p.value)} ${escape(p.currency)}`).join(', ')}</p>` : ''}${terms}${offer && offer.left !== null ? `<p class="note">${offer.left} left${offer.left === 0 ? ': sold out' : ' at this price'}</p>` : ''}${offer && !offer.onSale ? '<p class="bad">Not on sale now.</p>' : ''}
      <form class="line" action="/checkout/${escape(found.code)}"><input type="hidden" name="gvn" value="${escape(visit)}"><label>Quantity <input type="number" name="quantity" value="1" min="1" max="99"></label>${others.length ? `<label>Currency <select name="currency">${[price, ...others].map((p) => `<option>${escape(p.currency)}</option>`).join('')}</select></label>` : ''}<button>Buy</button></form>`,
        snippet(),
      ),
    );
  });
  server.get('/checkout/:code', (req, res) => {
    const found = item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const query = req.query as Record<string, string>;
    return res.send(page('Shop', `Pay for ${found.name}`, checkoutForm(found, query, '')));
  });
  const checkoutForm = (
    found: Shelf,
    values: Record<string, string>,
    fault: string,
  ) => `${fault ? `<p class="bad">${escape(fault)}</p>` : ''}<form class="line" method="post" action="/checkout/${escape(found.code)}">
    <input type="hidden" name="gvn" value="${escape(values.gvn ?? '')}"><input type="hidden" name="currency" value="${escape(values.currency ?? '')}"><label>Quantity <input name="quantity" type="number" min="1" max="99" value="${escape(values.quantity ?? '1')}"></label>
    <label>Your e-mail address <input name="buyer" type="email" required value="${escape(values.buyer ?? 'buyer@potlovers.example')}"></label>
    <label>Card <select name="card"><option value="${cards.pays}">${cards.pays} — pays</option><option value="${cards.refused}"${values.card === cards.refused ? ' selected' : ''}>${cards.refused} — is refused</option></select></label>
    <label class="check"><input type="checkbox" name="test" value="on"> a test, not paid</label> <label>Discount <input name="discount" size="8" value="${escape(values.discount ?? '')}" placeholder="none"></label><button>Pay</button></form>`;
  /** The next number of an order or lead: taken at once, so that two buyers who pay in the same moment never share one. */
  const nextNumber = (): number => {
    const sold = 10_000 + (db.prepare('SELECT count(*) FROM purchases').pluck().get() as number);
    const number = Math.max(sold, Number(readSwitch(db, 'last-number') || 0)) + 1;
    setSwitch(db, 'last-number', String(number));
    return number;
  };
  server.post('/checkout/:code', async (req, res) => {
    const found = item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const body = req.body as Record<string, string>;
    const quantity = Number(body.quantity);
    const again = (fault: string) =>
      res.status(402).send(page('Shop', `Pay for ${found.name}`, checkoutForm(found, body, fault)));
    if (!Number.isInteger(quantity) || quantity < 1 || quantity > 99)
      return again('The quantity must be a whole number from 1 to 99.');
    if (body.card?.replace(/\s/g, '') !== cards.pays.replace(/\s/g, ''))
      return again('The card was refused. Nothing was charged.');
    const offer = await offerOf(found.code);
    let asked = offer?.instalments?.[0] ?? found.price;
    let currency = found.currency;
    let quote = '';
    if (offer && setting('key', '') && !offer.instalments) {
      // the price of this moment, and a unit kept for it; a shop that cannot ask sells at the price on its shelf
      const said = await tell('quotes', {
        product: found.code,
        quantity,
        ...(body.currency ? { currency: body.currency } : {}),
      });
      const answer = JSON.parse(said.said || '{}') as {
        quote?: string;
        price?: { value: string; currency: string };
        detail?: string;
      };
      if (said.status === 409) return again(answer.detail ?? 'It is not on sale now.');
      if (answer.quote && answer.price) {
        quote = answer.quote;
        asked = answer.price.value;
        currency = answer.price.currency;
      }
    }
    const price = parseAmount(asked, currency);
    if (!price.ok) return again(price.reason);
    const number = nextNumber();
    const reference = `Q-${number}`;
    const placedAt = await today();
    const amount = toDecimal(price.value * quantity, currency);
    if (quote) setSwitch(db, `quote-${reference}`, quote);
    if (body.test === 'on') setSwitch(db, `test-${reference}`, 'on');
    if (offer?.recurring || offer?.instalments)
      db.prepare(
        'INSERT INTO subscriptions (reference, purchase, product, started_at, number, buyer) VALUES (?, ?, ?, ?, 1, ?)',
      ).run(`SUB-${number}`, reference, found.code, Date.parse(placedAt), body.buyer ?? '');
    const visit = on('lose') ? null : body.gvn?.trim() || null;
    const picture =
      on('picture') || on('onlypicture')
        ? `${gravenel()}/px/${encodeURIComponent(setting('key', ''))}.gif?${new URLSearchParams({ order: reference, amount, currency, product: found.code, ...(visit ? { visit } : {}) }).toString()}`
        : null;
    db.prepare('INSERT INTO purchases VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)').run(
      reference,
      Date.now(),
      found.code,
      found.name,
      quantity,
      amount,
      currency,
      body.buyer ?? '',
      visit,
      placedAt,
      '[]',
      picture,
      on('late') ? 1 : 0,
      '[]',
    );
    if (!on('late') && !on('onlypicture')) await report(purchase(reference)!);
    return res.redirect(303, offer?.first ? `/offers/${reference}/${offer.first}` : `/orders/${reference}`);
  });
  server.post('/leads/:code', async (req, res) => {
    const found = item(req.params.code);
    if (!found) return res.redirect(303, '/');
    const body = req.body as Record<string, string>;
    const number = nextNumber();
    const placedAt = await today();
    const told = await tell('leads', {
      lead: `L-${number}`,
      product: found.code,
      at: placedAt,
      ...(body.gvn?.trim() && !on('lose') ? { visit: body.gvn.trim() } : {}),
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
  // follow-on offers: each that is taken is an order of its own, so that nothing is lost when somebody leaves half-way
  server.get('/offers/:reference/:step', async (req, res) => {
    const row = purchase(req.params.reference);
    const offer = row ? await offerOf(row.product) : null;
    const step = offer?.steps.find((s) => s.code === req.params.step);
    if (!row || !step) return res.redirect(303, `/orders/${encodeURIComponent(req.params.reference)}`);
    return res.send(
      page(
        'Shop',
        `One more thing: ${step.name}`,
        `<p style="font-size:22px">${escape(step.price)} ${escape(step.currency)}</p><form class="line" method="post"><button name="answer" value="yes">Yes, add it</button> <button name="answer" value="no">No, thank you</button></form>`,
      ),
    );
  });
  server.post('/offers/:reference/:step', async (req, res) => {
    const row = purchase(req.params.reference);
    const offer = row ? await offerOf(row.product) : null;
    const step = offer?.steps.find((s) => s.code === req.params.step);
    if (!row || !step) return res.redirect(303, '/');
    const yes = (req.body as Record<string, string>).answer === 'yes';
    const reference = `${row.reference}-${step.code}`;
    if (yes && !purchase(reference)) {
      setSwitch(db, `step-${reference}`, step.code);
      if (readSwitch(db, `test-${row.reference}`) === 'on') setSwitch(db, `test-${reference}`, 'on');
      db.prepare('INSERT INTO purchases VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)').run(
        reference,
        Date.now(),
        step.product,
        step.name,
        1,
        step.price,
        step.currency,
        row.buyer,
        row.visit,
        await today(),
        '[]',
        null,
        0,
        '[]',
      );
      await report(purchase(reference)!);
    }
    const next = yes ? step.onYes : step.onNo;
    return res.redirect(303, next ? `/offers/${row.reference}/${next}` : `/orders/${row.reference}`);
  });
  server.get('/orders/:reference', async (req, res) => {
    await chargeDue();
    const row = purchase(req.params.reference);
    const offer = row ? await offerOf(row.product) : null;
    if (!row) return res.status(404).send(page('Shop', 'No such order', ''));
    const told = JSON.parse(row.reports) as Told[];
    const refunds = JSON.parse(row.refunds) as Refund[];
    const parts = db
      .prepare("SELECT product, reports FROM purchases WHERE reference = ? OR reference LIKE ? || '-%'")
      .all(row.reference, row.reference) as Pick<Purchase, 'product' | 'reports'>[];
    const files = [...downloadsIn(parts.flatMap((p) => JSON.parse(p.reports) as Told[])).values()];
    const also = await confirmationFor(parts.map((p) => p.product));
    const onShelf = also.filter((a) => item(a.code));
    const ways = offer
      ? [offer.support.address, offer.support.page, offer.support.phone]
          .filter(Boolean)
          .map(escape)
          .join(' · ')
      : '';
    res.send(
      page(
        'Shop',
        `Order ${row.reference}`,
        `<p>${row.quantity} × ${escape(row.name)}, ${escape(row.amount)} ${escape(row.currency)}, paid by ${escape(row.buyer)} · visit ${escape(row.visit ?? 'none')}</p>
      ${row.picture ? `<img src="${escape(row.picture)}" width="1" height="1" alt="">` : ''}
      ${row.waiting ? `<form class="line" method="post" action="/orders/${escape(row.reference)}/report"><button>Report this order now</button></form>` : ''}
      ${offer?.delivery === 'access' && offer.accessPage ? `<p><a href="${escape(`${offer.accessPage}?${new URLSearchParams(offer.accessParameters.map((p): [string, string] => [p, ({ order: row.reference, product: row.product, email: row.buyer, quantity: String(row.quantity) } as Record<string, string>)[p] ?? '']))}`)}">Open what you bought</a></p>` : ''}${offer?.receiptNote ? `<p class="note">${escape(offer.receiptNote)}</p>` : ''}
      ${files.map((f) => `<p><a href="${escape(f.url)}">${escape(f.name)}</a>, to be downloaded until ${escape(f.until.slice(0, 10))}</p>`).join('')}
      ${offer ? `<p class="note">${escape(offer.brand)}. Questions: ${ways}</p>` : ''}
      ${onShelf.length ? `<h2>You may like as well</h2><table>${onShelf.map((a) => `<tr><td><img src="${escape(a.picture)}" alt="" width="48"><td><a href="/p/${escape(a.code)}${row.visit ? `?gvn=${escape(row.visit)}` : ''}">${escape(a.name)}</a><td class="r">${a.price ? `${escape(a.price.value)} ${escape(a.price.currency)}` : 'free'}</tr>`).join('')}</table>` : ''}
      <h2>Refund</h2><form class="line" method="post" action="/orders/${escape(row.reference)}/refund"><label>Amount, empty for the whole <input name="amount" placeholder="${escape(row.amount)}"></label>
      <label>Kind <select name="kind"><option>refund</option><option>chargeback</option></select></label><button>Give back</button></form>
      ${refunds.length ? `<p>${refunds.map((r) => `${escape(r.reference)}: ${r.full ? 'the whole' : `${escape(r.amount)} ${escape(row.currency)}`}`).join(', ')}</p>` : ''}
      <h2>What Gravenel answered</h2>${told.map((t) => `<p>${escape(t.call)} → <b>${t.status}</b></p><pre>${escape(t.said)}</pre>`).join('') || '<p class="note">Nothing was reported by the server yet.</p>'}`,
      ),
    );
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
    const refund: Refund = {
      reference: `R-${row.reference}-${before.length + 1}`,
      amount: amount.trim(),
      full: amount.trim() === '',
    };
    db.prepare('UPDATE purchases SET refunds = ? WHERE reference = ?').run(
      JSON.stringify([...before, refund]),
      row.reference,
    );
    const body = {
      refund: refund.reference,
      order: row.reference,
      at: await today(),
      kind,
      ...(refund.full ? { full: true } : { lines: [{ product: row.product, amount: refund.amount }] }),
    };
    const told = [await tell('refunds', body)];
    if (on('twice')) told.push(await tell('refunds', body));
    note(row.reference, told);
    return res.redirect(303, `/orders/${encodeURIComponent(row.reference)}`);
  });
  server.get('/switches', (_req, res) => {
    const box = ([name, text]: [string, string]) =>
      `<label class="check"><input type="checkbox" name="shop-${name}" value="on"${readSwitch(db, `shop-${name}`) === 'on' ? ' checked' : ''}> ${text}</label>`;
    res.send(
      page(
        'Shop',
        'Switches',
        `<form method="post" action="/switches"><h2>Connection to Gravenel</h2>
      <p class="line"><label>Address <input name="gravenel" size="40" value="${escape(gravenel())}"></label><label>Key <input name="key" size="30" value="${escape(setting('key', ''))}"></label><label>Secret <input name="secret" size="50" value="${escape(setting('secret', ''))}" autocomplete="off"></label></p>
      <h2>How it behaves</h2>${Object.entries(switchNames).map(box).join('')}<p><button>Keep</button></p></form>`,
      ),
    );
  });
  server.post('/switches', (req, res) => {
    const body = req.body as Record<string, string>;
    for (const name of Object.keys(switchNames)) setSwitch(db, `shop-${name}`, body[`shop-${name}`] ?? '');
    // an address without its last slash; a secret may end with one
    if (body.gravenel !== undefined) setSwitch(db, 'gravenel', body.gravenel.trim().replace(/\/+$/, ''));
    for (const name of ['key', 'secret'])
      if (body[name] !== undefined) setSwitch(db, name, body[name].trim());
    res.redirect(303, '/switches');
  });
}
