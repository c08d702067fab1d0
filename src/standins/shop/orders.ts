import type { Express } from 'express';
import { escape, page } from '../html';
import type { AlsoOffered, Gravenel } from './gravenel';
import type { Offer, Purchase, Records, Refund, Told } from './records';
import { report } from './reports';

interface Download {
  name: string;
  url: string;
  until: string;
}

/** Links to files among what Gravenel answered to reports, each once. */
function downloadsIn(told: Told[]): Download[] {
  const files = told
    .filter((t) => t.status === 200 || t.status === 201)
    .flatMap((t) => (JSON.parse(t.said) as { downloads?: Download[] }).downloads ?? []);
  return [...new Map(files.map((d) => [d.url, d])).values()];
}

/** What was bought together: the order and what was taken after it. */
const partsOf = ({ db }: Records, reference: string) =>
  db
    .prepare("SELECT product, reports FROM purchases WHERE reference = ? OR reference LIKE ? || '-%'")
    .all(reference, reference) as Pick<Purchase, 'product' | 'reports'>[];

/** Where what was bought is opened, with the details of the sale that its page asks for. */
function accessOf(row: Purchase, offer: Offer | null): string {
  if (offer?.delivery !== 'access' || !offer.accessPage) return '';
  const details: Record<string, string> = {
    order: row.reference,
    product: row.product,
    email: row.buyer,
    quantity: String(row.quantity),
  };
  const query = new URLSearchParams(
    offer.accessParameters.map((name): [string, string] => [name, details[name] ?? '']),
  );
  return `<p><a href="${escape(`${offer.accessPage}?${query.toString()}`)}">Open what you bought</a></p>`;
}

function supportOf(offer: Offer | null): string {
  if (!offer) return '';
  const { address, page: web, phone } = offer.support;
  const ways = [address, web, phone].filter(Boolean).map(escape).join(' · ');
  return `<p class="note">${escape(offer.brand)}. Questions: ${ways}</p>`;
}

function alsoTable(offers: AlsoOffered[], row: Purchase): string {
  if (!offers.length) return '';
  const lines = offers.map((a) => {
    const visit = row.visit ? `?gvn=${escape(row.visit)}` : '';
    const price = a.price ? `${escape(a.price.value)} ${escape(a.price.currency)}` : 'free';
    return `<tr><td><img src="${escape(a.picture)}" alt="" width="48"><td><a href="/p/${escape(a.code)}${visit}">${escape(a.name)}</a><td class="r">${price}</tr>`;
  });
  return `<h2>You may like as well</h2><table>${lines.join('')}</table>`;
}

function refundsOf(row: Purchase): string {
  const refunds = JSON.parse(row.refunds) as Refund[];
  if (!refunds.length) return '';
  const said = refunds.map(
    (r) => `${escape(r.reference)}: ${r.full ? 'the whole' : `${escape(r.amount)} ${escape(row.currency)}`}`,
  );
  return `<p>${said.join(', ')}</p>`;
}

function answersOf(row: Purchase): string {
  const told = JSON.parse(row.reports) as Told[];
  return (
    told.map((t) => `<p>${escape(t.call)} → <b>${t.status}</b></p><pre>${escape(t.said)}</pre>`).join('') ||
    '<p class="note">Nothing was reported by the server yet.</p>'
  );
}

function orderPage(row: Purchase, offer: Offer | null, files: Download[], also: AlsoOffered[]): string {
  const reference = escape(row.reference);
  return `<p>${row.quantity} × ${escape(row.name)}, ${escape(row.amount)} ${escape(row.currency)}, paid by ${escape(row.buyer)} · visit ${escape(row.visit ?? 'none')}</p>
      ${row.picture ? `<img src="${escape(row.picture)}" width="1" height="1" alt="">` : ''}
      ${row.waiting ? `<form class="line" method="post" action="/orders/${reference}/report"><button>Report this order now</button></form>` : ''}
      ${accessOf(row, offer)}${offer?.receiptNote ? `<p class="note">${escape(offer.receiptNote)}</p>` : ''}
      ${files.map((f) => `<p><a href="${escape(f.url)}">${escape(f.name)}</a>, to be downloaded until ${escape(f.until.slice(0, 10))}</p>`).join('')}
      ${supportOf(offer)}
      ${alsoTable(also, row)}
      <h2>Refund</h2><form class="line" method="post" action="/orders/${reference}/refund"><label>Amount, empty for the whole <input name="amount" placeholder="${escape(row.amount)}"></label>
      <label>Kind <select name="kind"><option>refund</option><option>chargeback</option></select></label><button>Give back</button></form>
      ${refundsOf(row)}
      <h2>What Gravenel answered</h2>${answersOf(row)}`;
}

/** Gives a purchase back, in part or whole, and reports it. */
async function giveBack(
  records: Records,
  gravenel: Gravenel,
  row: Purchase,
  { amount = '', kind = 'refund' }: Record<string, string>,
): Promise<void> {
  const before = JSON.parse(row.refunds) as Refund[];
  const refund: Refund = {
    reference: `R-${row.reference}-${before.length + 1}`,
    amount: amount.trim(),
    full: amount.trim() === '',
  };
  records.db
    .prepare('UPDATE purchases SET refunds = ? WHERE reference = ?')
    .run(JSON.stringify([...before, refund]), row.reference);
  const body = {
    refund: refund.reference,
    order: row.reference,
    at: await gravenel.today(),
    kind,
    ...(refund.full ? { full: true } : { lines: [{ product: row.product, amount: refund.amount }] }),
  };
  const told = [await gravenel.tell('refund', body)];
  if (records.on('twice')) told.push(await gravenel.tell('refund', body));
  records.note(row.reference, told);
}

/** The page of an order: what was bought, what is offered beside it, refunds, and what Gravenel answered. */
export function orderPages(
  server: Express,
  records: Records,
  gravenel: Gravenel,
  chargeDue: () => Promise<void>,
): void {
  server.get('/orders/:reference', async (req, res) => {
    await chargeDue();
    const row = records.purchase(req.params.reference);
    if (!row) return res.status(404).send(page('Shop', 'No such order', ''));
    const offer = await gravenel.offerOf(row.product);
    const parts = partsOf(records, row.reference);
    const files = downloadsIn(parts.flatMap((p) => JSON.parse(p.reports) as Told[]));
    const also = await gravenel.alsoOffered(parts.map((p) => p.product));
    const onShelf = also.filter((a) => records.item(a.code));
    return res.send(page('Shop', `Order ${row.reference}`, orderPage(row, offer, files, onShelf)));
  });
  server.post('/orders/:reference/report', async (req, res) => {
    const row = records.purchase(req.params.reference);
    if (row) await report(records, gravenel, row);
    res.redirect(303, `/orders/${encodeURIComponent(req.params.reference)}`);
  });
  server.post('/orders/:reference/refund', async (req, res) => {
    const row = records.purchase(req.params.reference);
    if (!row) return res.redirect(303, '/');
    await giveBack(records, gravenel, row, req.body as Record<string, string>);
    return res.redirect(303, `/orders/${encodeURIComponent(row.reference)}`);
  });
}
