import type { FieldFault } from '../../../contract/explain';
import type { ProductIn, ProductOut } from '../../../contract/setup/products';
import { addDays, dayOf } from '../../../core/calendar/zone';
import { parseAmount, toDecimal } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { parsePercent, percentDigits } from '../../../core/money/percent';
import { plainDetails } from '../../../core/pricing/product';
import { mayBecome, readiness, type ProductState } from '../../../core/pricing/readiness';
import type { Reward } from '../../../core/terms/rate';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { programme } from '../../ground/tables/programme';
import { difference, record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { detailsAsTyped, detailsOf, readDetails } from '../../registers/catalogue/details';
import { copyFiles, fileNeed, fileOf, pictureAddress, shownFile } from '../../registers/catalogue/files';
import { checkPagesOf, showPages } from '../../registers/catalogue/pages';
import { priceNow } from '../../registers/catalogue/price';
import {
  pageOfProducts,
  productByCode,
  productById,
  type ProductRecord,
} from '../../registers/catalogue/store';
import { addProduct, changeProduct, copyDetails } from '../../registers/catalogue/write';
import { giveLinksForProduct } from '../../registers/people/links';
import { theProgramme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { ordersSince } from '../../totals/products';
import {
  effective,
  firstEvent,
  lockedAt,
  productSlot,
  programmeSlot,
  rewardIn,
  setReward,
} from '../terms/service';
import { theTerms } from '../terms/store';
import { referralsPromised, worstInWords, worstOn } from '../terms/worst';
import { conversionOf, economicsOf } from './economics';

interface Checked {
  fields: Pick<
    ProductRecord,
    'code' | 'name' | 'description' | 'kind' | 'currency' | 'price' | 'refundDays' | 'salesPage' | 'details'
  >;
  /** undefined = leave the rate book's */
  reward: Reward | null | undefined;
  renewalReward: Reward | null | undefined;
}

function check(app: App, input: ProductIn, own: ProductRecord | null): Checked {
  const faults: FieldFault[] = [];
  const fault = (field: string, detail: string, example: string) =>
    faults.push({ pointer: `/${field}`, detail, example });
  const base = theProgramme(app).base;
  const code = input.code.toUpperCase();
  const taken = productByCode(app, code);
  if (taken && taken.id !== own?.id)
    fault('code', `Code ${code} belongs to ${taken.name} already`, `${code}-2`);
  let price: number | null = null;
  if (!isCurrency(input.currency)) fault('currency', `Currency ${input.currency} is not known`, 'EUR');
  else if (input.price.trim() !== '') {
    const parsed = parseAmount(input.price, input.currency);
    if (parsed.ok) price = parsed.value;
    else fault('price', `Price: ${parsed.reason}`, parsed.example);
  }
  const kind = input.kind ?? (own?.kind as ProductIn['kind']) ?? 'one-off';
  if (kind === 'free' && price !== null && price > 0)
    fault('price', 'A free product has no price: it earns by the lead', '');
  const { details, faults: more } = readDetails(
    app,
    { ...input, kind },
    price,
    own ? detailsOf(own) : plainDetails,
  );
  faults.push(...more);
  const renewalReward =
    input.renewalRewardKind === undefined || (kind !== 'recurring' && kind !== 'instalments')
      ? undefined
      : readReward(app, input.renewalRewardKind, {
          text: input.renewalReward ?? '',
          field: 'renewalReward',
          faults,
        });
  let reward: Reward | null | undefined = input.rewardKind === 'book' ? undefined : null;
  if (kind === 'free' && input.rewardKind === 'percent')
    fault(
      'rewardKind',
      'A free product has no value to take a percentage of: pay a flat amount a lead',
      'flat',
    );
  else reward = readReward(app, input.rewardKind, { text: input.reward, field: 'reward', faults });
  if (
    reward?.type === 'flat-order' &&
    price !== null &&
    input.currency === base &&
    kind !== 'free' &&
    reward.amount > price
  )
    fault('reward', 'Commission: more than the price cannot be paid', toDecimal(price, base));
  if (faults.length) throw invalid(faults);
  const { name, description, currency, refundDays, salesPage } = input;
  return {
    fields: {
      code,
      name: name.trim(),
      description: description.trim(),
      kind,
      currency,
      price: kind === 'free' ? 0 : price,
      refundDays,
      salesPage: salesPage.trim(),
      details,
    },
    reward,
    renewalReward,
  };
}

/** A reward as typed: a percentage, a flat amount, none; undefined = leave the rate book's. */
function readReward(
  app: App,
  kind: ProductIn['rewardKind'],
  { text, field, faults }: { text: string; field: string; faults: FieldFault[] },
): Reward | null | undefined {
  if (kind === 'book') return undefined;
  if (kind === 'none') return null;
  const parsed = kind === 'percent' ? parsePercent(text) : parseAmount(text, theProgramme(app).base);
  if (parsed.ok)
    return kind === 'percent'
      ? { type: 'percent', ppm: parsed.value }
      : { type: 'flat-order', amount: parsed.value };
  faults.push({ pointer: `/${field}`, detail: `Commission: ${parsed.reason}`, example: parsed.example });
  return null;
}

/** Every page that links may lead to. */
function listHosts(app: App, actor: Actor, fields: Checked['fields']): void {
  const { mobilePage, fallbackPage, prelaunchPage, furtherPages } = detailsOf(fields);
  listHost(app, actor, fields.salesPage);
  for (const p of [mobilePage, fallbackPage, prelaunchPage, ...furtherPages]) listHost(app, actor, p);
}

/** A sales page that the merchant enters is a page that links may lead to: its host joins the list. */
function listHost(app: App, actor: Actor, salesPage: string): void {
  if (!salesPage) return;
  let host: string;
  try {
    host = new URL(salesPage).host;
  } catch {
    throw refuse(
      'salesPage',
      'Sales page is not a web address that begins with http:// or https://',
      'https://shop.quernstone.example/wheel',
    );
  }
  // read anew: several pages of one product may each add one
  const { landingHosts, version } = app.db
    .select({ landingHosts: programme.landingHosts, version: programme.version })
    .from(programme)
    .get()!;
  if (landingHosts.includes(host)) return;
  // a form of the settings that is open has the list without it: it is told, and drops nothing
  changeProgramme(app, { landingHosts: [...landingHosts, host], version: version + 1 });
  touch(app, 'records');
  record(app, actor, 'landing-host-added', { subject: 'programme', before: null, after: { host } });
}

export function createProduct(app: App, actor: Actor, input: ProductIn): ProductOut {
  const { fields, reward, renewalReward } = check(app, input, null);
  const id = newId('product');
  addProduct(app, { id, ...fields, createdAt: app.clock.now() });
  touch(app, 'records');
  record(app, actor, 'product-created', { subject: id, before: null, after: fields });
  listHosts(app, actor, fields);
  // nobody was promised anything on what did not exist
  if (reward !== undefined)
    setReward(app, actor, productSlot(id, firstEvent(fields.kind)), { reward, promised: false });
  if (renewalReward !== undefined)
    setReward(app, actor, productSlot(id, 'renewal'), { reward: renewalReward, promised: false });
  touch(app, 'records');
  return readProduct(app, id);
}

function current(app: App, id: string, version?: number): ProductRecord {
  const row = productById(app, id);
  if (!row) throw new Problem('not-found', 'This product does not exist');
  if (version !== undefined && row.version !== version) {
    throw stale(app, id, 'this product', readProduct(app, id));
  }
  return row;
}

export function editProduct(
  app: App,
  actor: Actor,
  id: string,
  input: ProductIn & { version: number },
): ProductOut {
  const row = current(app, id, input.version);
  const { fields, reward, renewalReward } = check(app, input, row);
  if (fields.kind !== row.kind && row.sold + ordersSince(app, id, '') > 0)
    throw refuse(
      'kind',
      'The kind of sale cannot change once it was sold; copy it as another kind instead',
      row.kind,
    );
  if (row.state === 'live') {
    const missing = missingOf(app, { ...row, ...fields }, reward);
    if (missing.length)
      throw invalid(
        missing.map((m) => ({
          pointer: `/${m.field}`,
          detail: `${m.label} is needed while the product is live`,
        })),
      );
  }
  const change = difference(row, fields);
  changeProduct(app, id, fields);
  if (Object.keys(change.after).length)
    record(app, actor, 'product-edited', { subject: id, before: change.before, after: change.after });
  listHosts(app, actor, fields);
  if (reward !== undefined)
    setReward(app, actor, productSlot(id, firstEvent(fields.kind)), {
      reward,
      promised: row.state !== 'draft',
    });
  if (renewalReward !== undefined)
    setReward(app, actor, productSlot(id, 'renewal'), {
      reward: renewalReward,
      promised: row.state !== 'draft',
    });
  touch(app, 'records');
  refuseWorstOn(app, id);
  return readProduct(app, id);
}

/** A price with which commission and referral share could be more than the sale is refused; the transaction takes everything back. */
function refuseWorstOn(app: App, id: string): void {
  const product = productById(app, id)!;
  if (product.price === null || product.kind === 'free') return;
  for (const event of ['sale', 'renewal'] as const) {
    const found = worstOn(app, product, {
      rates: theTerms(app).data.rates,
      event,
      promised: referralsPromised(app),
    });
    if (found)
      throw refuse('price', worstInWords(app, product, found), 'a higher price, or a lower commission');
  }
}

function missingOf(app: App, row: ProductRecord, reward: Reward | null | undefined) {
  const ownReward = reward === undefined ? rewardIn(app, productSlot(row.id, firstEvent(row.kind))) : reward;
  return readiness({
    ...row,
    ...fileNeed(app, row),
    hasCommission: ownReward !== null || (row.kind !== 'free' && rewardIn(app, programmeSlot) !== null),
  }).filter((r) => !r.ready);
}

export function moveProduct(
  app: App,
  actor: Actor,
  id: string,
  { to, version }: { to: ProductState; version: number },
): ProductOut {
  const row = current(app, id, version);
  if (row.state === to) return readProduct(app, id);
  if (!mayBecome(row.state, to))
    throw new Problem('conflict', `A product that is ${row.state} cannot become ${to}`);
  if (to === 'live') {
    const missing = missingOf(app, row, undefined);
    if (missing.length)
      throw invalid(
        missing.map((m) => ({
          pointer: `/${m.field}`,
          detail: `Before it goes live it needs: ${m.label.toLowerCase()}`,
        })),
      );
    giveLinksForProduct(app, id);
  }
  changeProduct(app, id, { state: to, retiredAt: to === 'retired' ? app.clock.now() : null });
  record(app, actor, 'product-moved', { subject: id, before: { state: row.state }, after: { state: to } });
  touch(app, 'records');
  return readProduct(app, id);
}

export function readProduct(app: App, id: string): ProductOut {
  const row = current(app, id);
  const { base } = theProgramme(app);
  const own = rewardIn(app, productSlot(id, firstEvent(row.kind)));
  const later = rewardIn(app, productSlot(id, 'renewal'));
  const kindOf = (r: Reward | null) =>
    r === null
      ? ('none' as const)
      : r.type === 'percent'
        ? ('percent' as const)
        : r.type === 'bands'
          ? ('book' as const)
          : ('flat' as const);
  const typed = (r: Reward | null) =>
    r === null || r.type === 'bands'
      ? ''
      : r.type === 'percent'
        ? percentDigits(r.ppm)
        : toDecimal(r.amount, base);
  const now = app.clock.now();
  const { code, name, description, currency, refundDays, salesPage, state, createdAt, version } = row;
  return {
    id,
    code,
    name,
    description,
    currency,
    refundDays,
    salesPage,
    state,
    createdAt,
    version,
    price: row.price === null || row.kind === 'free' ? '' : toDecimal(row.price, currency),
    ...detailsAsTyped(app, row),
    sold: row.sold,
    ...priceNow(row),
    rewardKind: kindOf(own),
    reward: typed(own),
    renewalRewardKind: kindOf(later),
    renewalReward: typed(later),
    locks: (['sale', 'renewal'] as const).filter((event) => lockedAt(app, id, event, now)),
    picture: pictureAddress(app, row),
    ownPicture: fileOf(app, id, 'picture') !== undefined,
    file: shownFile(app, id),
    rewardText: effective(app, '', row, { base }).text,
    joinAddress: `${app.address}/join/${code}`,
    conversion: conversionOf(app, id),
    economics: economicsOf(app, row),
    pages: showPages(app, row),
    readiness: readiness({
      ...row,
      ...fileNeed(app, row),
      hasCommission: effective(app, '', row, { base }).reward !== null,
    }),
  };
}

export function listProducts(
  app: App,
  filter: { state?: ProductState; q?: string; after?: string; limit?: number },
) {
  const { base, zone } = theProgramme(app);
  const since = addDays(dayOf(app.clock.now(), zone), -30);
  const { rows, next } = pageOfProducts(app, { ...filter, limit: filter.limit ?? 100 });
  return {
    next,
    rows: rows.map((row) => ({
      id: row.id,
      code: row.code,
      name: row.name,
      kind: row.kind as ProductOut['kind'],
      state: row.state,
      price: row.kind === 'free' || row.price === null ? null : { amount: row.price, currency: row.currency },
      rewardText: effective(app, '', row, { base }).text,
      refundDays: row.refundDays,
      orders30: ordersSince(app, row.id, since),
    })),
  };
}

/** Looks now whether the pages of a product answer. */
export async function checkPages(app: App, id: string): Promise<ProductOut> {
  await checkPagesOf(app, current(app, id));
  return readProduct(app, id);
}

/** Copies everything but code, state and what was sold. */
export function copyProduct(app: App, actor: Actor, id: string): ProductOut {
  const {
    code,
    name,
    description,
    currency,
    price,
    refundDays,
    salesPage,
    rewardKind,
    reward,
    renewalRewardKind,
    renewalReward,
    ...rest
  } = readProduct(app, id);
  let next = `${code.slice(0, 28)}-2`;
  for (let n = 2; productByCode(app, next); n += 1) next = `${code.slice(0, 28)}-${n + 1}`;
  const row = current(app, id);
  const bands = rewardKind === 'book' || renewalRewardKind === 'book';
  const made = createProduct(app, actor, {
    code: next,
    name: `${name}, copy`.slice(0, 120),
    description,
    currency,
    price,
    refundDays,
    salesPage,
    rewardKind: rewardKind === 'book' ? 'none' : rewardKind,
    reward,
    kind: rest.kind,
    ...(rest.kind === 'recurring' || rest.kind === 'instalments'
      ? {
          renewalRewardKind: renewalRewardKind === 'book' ? ('none' as const) : renewalRewardKind,
          renewalReward,
          renewalPrice: rest.renewalPrice,
        }
      : {}),
  });
  copyDetails(app, made.id, row);
  copyFiles(app, actor, id, made.id);
  if (bands) copyBands(app, actor, id, made.id);
  touch(app, 'records');
  record(app, actor, 'product-copied', { subject: made.id, before: { from: id }, after: { code: next } });
  return readProduct(app, made.id);
}

function copyBands(app: App, actor: Actor, from: string, to: string): void {
  for (const event of ['sale', 'renewal'] as const) {
    const reward = rewardIn(app, productSlot(from, event));
    if (reward?.type === 'bands') setReward(app, actor, productSlot(to, event), { reward, promised: false });
  }
}
