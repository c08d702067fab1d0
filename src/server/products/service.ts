import { eq } from 'drizzle-orm';
import { addDays, dayOf } from '../../core/calendar/zone';
import { figuresOf, noCounts } from '../../core/figures/metrics';
import { formatMoney, parseAmount, toDecimal } from '../../core/money/amount';
import { isCurrency } from '../../core/money/currency';
import { parsePercent, percentDigits } from '../../core/money/percent';
import type { ProductState } from '../../core/pricing/readiness';
import { mayBecome, readiness } from '../../core/pricing/readiness';
import type { Reward } from '../../core/terms/rate';
import type { FieldFault } from '../../contract/explain';
import type { ProductIn, ProductOut } from '../../contract/products';
import { giveLinksForProduct } from '../affiliates/links';
import type { Actor, App } from '../context';
import { changed, theProgramme } from '../context';
import { newId } from '../db/ids';
import { products, programme } from '../db/schema';
import { invalid, Problem, refuse } from '../http/problem';
import { difference, record } from '../staff/audit';
import { effective, productSlot, programmeSlot, rewardIn, setReward } from '../terms/service';
import type { ProductRecord } from './store';
import { clicksSince, ordersSince, pageOfProducts, productByCode, productById } from './store';

interface Checked {
  fields: Pick<ProductRecord, 'code' | 'name' | 'description' | 'currency' | 'price' | 'refundDays' | 'salesPage'>;
  /** undefined = leave the rate book's */
  reward: Reward | null | undefined;
}

function check(app: App, input: ProductIn, own: string | null): Checked {
  const faults: FieldFault[] = [];
  const fault = (field: string, detail: string, example: string) => faults.push({ pointer: `/${field}`, detail, example });
  const base = theProgramme(app).base;
  const code = input.code.toUpperCase();
  const taken = productByCode(app, code);
  if (taken && taken.id !== own) fault('code', `Code ${code} belongs to ${taken.name} already`, `${code}-2`);
  let price: number | null = null;
  if (!isCurrency(input.currency)) fault('currency', `Currency ${input.currency} is not known`, 'EUR');
  else if (input.price.trim() !== '') {
    const parsed = parseAmount(input.price, input.currency);
    if (parsed.ok) price = parsed.value;
    else fault('price', `Price: ${parsed.reason}`, parsed.example);
  }
  let reward: Reward | null | undefined = input.rewardKind === 'book' ? undefined : null;
  if (input.rewardKind === 'percent') {
    const parsed = parsePercent(input.reward);
    if (parsed.ok) reward = { type: 'percent', ppm: parsed.value };
    else fault('reward', `Commission: ${parsed.reason}`, parsed.example);
  } else if (input.rewardKind === 'flat') {
    const parsed = parseAmount(input.reward, base);
    if (!parsed.ok) fault('reward', `Commission: ${parsed.reason}`, parsed.example);
    else if (price !== null && input.currency === base && parsed.value > price) fault('reward', 'Commission: more than the price cannot be paid', toDecimal(price, base));
    else reward = { type: 'flat-order', amount: parsed.value };
  }
  if (faults.length) throw invalid(faults);
  const { name, description, currency, refundDays, salesPage } = input;
  return { fields: { code, name: name.trim(), description: description.trim(), currency, price, refundDays, salesPage: salesPage.trim() }, reward };
}

/** A sales page that the merchant enters is a page that links may lead to: its host joins the list. */
function listHost(app: App, actor: Actor, salesPage: string): void {
  if (!salesPage) return;
  let host: string;
  try {
    host = new URL(salesPage).host;
  } catch {
    throw refuse('salesPage', 'Sales page is not a web address that begins with http:// or https://', 'https://shop.quernstone.example/wheel');
  }
  const { landingHosts } = theProgramme(app);
  if (landingHosts.includes(host)) return;
  app.db.update(programme).set({ landingHosts: [...landingHosts, host] }).run();
  record(app, actor, 'landing-host-added', 'programme', null, { host });
}

export function createProduct(app: App, actor: Actor, input: ProductIn): ProductOut {
  const { fields, reward } = check(app, input, null);
  const id = newId('product');
  app.db.insert(products).values({ id, ...fields, createdAt: app.clock.now() }).run();
  changed(app);
  record(app, actor, 'product-created', id, null, fields);
  listHost(app, actor, fields.salesPage);
  if (reward !== undefined) setReward(app, actor, productSlot(id), reward);
  changed(app);
  return readProduct(app, id);
}

function current(app: App, id: string, version?: number): ProductRecord {
  const row = productById(app, id);
  if (!row) throw new Problem('not-found', 'This product does not exist');
  if (version !== undefined && row.version !== version) {
    throw new Problem('stale', 'Somebody else changed this product meanwhile. Your values are kept in the form; compare and save again.', { current: readProduct(app, id) });
  }
  return row;
}

export function editProduct(app: App, actor: Actor, id: string, input: ProductIn & { version: number }): ProductOut {
  const row = current(app, id, input.version);
  const { fields, reward } = check(app, input, id);
  if (row.state === 'live') {
    const missing = missingOf(app, { ...row, ...fields }, reward);
    if (missing.length) throw invalid(missing.map((m) => ({ pointer: `/${m.field}`, detail: `${m.label} is needed while the product is live` })));
  }
  const change = difference(row, fields);
  app.db.update(products).set({ ...fields, version: row.version + 1 }).where(eq(products.id, id)).run();
  if (Object.keys(change.after).length) record(app, actor, 'product-edited', id, change.before, change.after);
  listHost(app, actor, fields.salesPage);
  if (reward !== undefined) setReward(app, actor, productSlot(id), reward);
  changed(app);
  return readProduct(app, id);
}

function missingOf(app: App, row: ProductRecord, reward: Reward | null | undefined) {
  return readiness({ ...row, hasCommission: (reward ?? rewardIn(app, programmeSlot)) !== null }).filter((r) => !r.ready);
}

export function moveProduct(app: App, actor: Actor, id: string, to: ProductState, version: number): ProductOut {
  const row = current(app, id, version);
  if (row.state === to) return readProduct(app, id);
  if (!mayBecome(row.state, to)) throw new Problem('conflict', `A product that is ${row.state} cannot become ${to}`);
  if (to === 'live') {
    const missing = missingOf(app, row, rewardIn(app, productSlot(id)));
    if (missing.length) throw invalid(missing.map((m) => ({ pointer: `/${m.field}`, detail: `Before it goes live it needs: ${m.label.toLowerCase()}` })));
    giveLinksForProduct(app, id);
  }
  app.db.update(products).set({ state: to, version: row.version + 1, retiredAt: to === 'retired' ? app.clock.now() : null }).where(eq(products.id, id)).run();
  record(app, actor, 'product-moved', id, { state: row.state }, { state: to });
  changed(app);
  return readProduct(app, id);
}

/** Orders ÷ clicks of the last 90 days, or null where there were no clicks. */
function conversionOf(app: App, product: string): number | null {
  const since = addDays(dayOf(app.clock.now(), theProgramme(app).zone), -90);
  return figuresOf({ ...noCounts, clicks: clicksSince(app, product, since), orders: ordersSince(app, product, since) }).conversion;
}

export function readProduct(app: App, id: string): ProductOut {
  const row = current(app, id);
  const { base } = theProgramme(app);
  const own = rewardIn(app, productSlot(id));
  const { code, name, description, currency, refundDays, salesPage, state, createdAt, version } = row;
  return {
    id, code, name, description, currency, refundDays, salesPage, state, createdAt, version,
    price: row.price === null ? '' : toDecimal(row.price, currency),
    rewardKind: own === null ? 'none' : own.type === 'percent' ? 'percent' : own.type === 'bands' ? 'book' : 'flat',
    reward: own === null ? '' : own.type === 'percent' ? percentDigits(own.ppm) : own.type === 'bands' ? '' : toDecimal(own.amount, base),
    rewardText: effective(app, '', row, base).text,
    joinAddress: `${app.address}/join/${code}`,
    conversion: conversionOf(app, id),
    readiness: readiness({ ...row, hasCommission: effective(app, '', row, base).reward !== null }),
  };
}

export function listProducts(app: App, filter: { state?: ProductState; q?: string; after?: string; limit?: number }) {
  const { base, zone } = theProgramme(app);
  const since = addDays(dayOf(app.clock.now(), zone), -30);
  const { rows, next } = pageOfProducts(app, { ...filter, limit: filter.limit ?? 100 });
  return {
    next, rows: rows.map((row) => ({
      id: row.id, code: row.code, name: row.name, state: row.state, price: row.price === null ? null : { amount: row.price, currency: row.currency },
      rewardText: effective(app, '', row, base).text, refundDays: row.refundDays, orders30: ordersSince(app, row.id, since),
    })),
  };
}

/** Price and reward of a product as outsiders read them. */
export function publicTerms(app: App, row: ProductRecord): { price: string; reward: string } {
  const { base } = theProgramme(app);
  return { price: row.price === null ? '' : formatMoney({ amount: row.price, currency: row.currency }), reward: effective(app, '', row, base).text };
}

