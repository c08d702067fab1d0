import type { ProductIn, ProductOut } from '../../../contract/setup/products';
import type { ProductDetails } from '../../../core/pricing/product';
import { mayBecome, readiness, type ProductState } from '../../../core/pricing/readiness';
import type { Reward } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { difference, record } from '../../registers/access/audit';
import { detailsOf } from '../../registers/catalogue/details';
import { fileNeed } from '../../registers/catalogue/files';
import { checkPagesOf } from '../../registers/catalogue/pages';
import { productById, type ProductRecord } from '../../registers/catalogue/store';
import { addProduct, changeProduct } from '../../registers/catalogue/write';
import { giveLinksForProduct } from '../../registers/people/links';
import { ordersSince } from '../../totals/products';
import { earliestCut, isAnybodyPromised } from '../terms/cuts';
import { firstEvent, productSlot, programmeSlot, rewardIn, setReward } from '../terms/service';
import { theTerms } from '../terms/store';
import { referralsPromised, worstInWords, worstOn } from '../terms/worst';
import { tellOfMove, tellOfPrice } from './announce';
import { checkProduct } from './check';
import { listHosts } from './hosts';
import { current, readProduct } from './view';

export function createProduct(app: App, actor: Actor, input: ProductIn): ProductOut {
  const { fields, reward, renewalReward } = checkProduct(app, input, null);
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

export function editProduct(
  app: App,
  actor: Actor,
  id: Id<'product'>,
  input: ProductIn & { version: number },
): ProductOut {
  const row = current(app, id, input.version);
  const { fields, reward, renewalReward } = checkProduct(app, input, row);
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
  fields.details = { ...fields.details, closedFrom: closedFrom(app, row, fields.details) };
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
  tellOfPrice(app, row, productById(app, id)!);
  return readProduct(app, id);
}

/**
 * From when affiliates may not promote a product any more: while it is on sale and somebody was promised commission on
 * it, from the end of the promised notice on. Null where they may.
 */
function closedFrom(
  app: App,
  row: ProductRecord,
  { recruiting }: Partial<Pick<ProductDetails, 'recruiting'>>,
): number | null {
  if (recruiting !== 'none') return null;
  const before = detailsOf(row);
  if (before.recruiting === 'none') return before.closedFrom;
  return row.state === 'live' && isAnybodyPromised(app) ? earliestCut(app) : app.clock.now();
}

/** A price with which commission and referral share could be more than the sale is refused; the transaction takes everything back. */
function refuseWorstOn(app: App, id: Id<'product'>): void {
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
  id: Id<'product'>,
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
  tellOfMove(app, row, to);
  changeProduct(app, id, { state: to, retiredAt: to === 'retired' ? app.clock.now() : null });
  record(app, actor, 'product-moved', { subject: id, before: { state: row.state }, after: { state: to } });
  touch(app, 'records');
  return readProduct(app, id);
}

/** Looks now whether the pages of a product answer. */
export async function checkPages(app: App, id: Id<'product'>): Promise<ProductOut> {
  await checkPagesOf(app, current(app, id));
  return readProduct(app, id);
}
