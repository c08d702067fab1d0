import { type ProductOut } from '../../../contract/setup/products';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { record } from '../../registers/access/audit';
import { copyFiles } from '../../registers/catalogue/files';
import { productByCode } from '../../registers/catalogue/store';
import { copyDetails } from '../../registers/catalogue/write';
import { productSlot, rewardIn, setReward } from '../terms/service';
import { createProduct } from './service';
import { current, readProduct } from './view';

/** Copies everything but code, state and what was sold. */
export function copyProduct(app: App, actor: Actor, id: Id<'product'>): ProductOut {
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

function copyBands(app: App, actor: Actor, from: Id<'product'>, to: Id<'product'>): void {
  for (const event of ['sale', 'renewal'] as const) {
    const reward = rewardIn(app, productSlot(from, event));
    if (reward?.type === 'bands') setReward(app, actor, productSlot(to, event), { reward, promised: false });
  }
}
