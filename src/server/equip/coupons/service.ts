import type { BodyOf } from '../../../contract/endpoint';
import type {
  CouponOut,
  editCoupon as Edit,
  planCoupon as Plan,
  relaunchCoupon as Relaunch,
} from '../../../contract/equip/coupons';
import { couponFields, type CouponField, type CouponFields } from '../../../core/material/coupon';
import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem } from '../../ground/http/problem';
import { difference, record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { theProgramme } from '../../registers/programme/record';
import { checkFollows, planFor } from '../planned/plan';
import { checkedCoupon, couponFaultsOf } from './check';
import { addCoupon, addEvidence, changeCoupon, couponById, couponFieldsOf, putCouponAway } from './store';
import { couponFound, couponSubject } from './subject';
import { readTyped, typedOf, type CouponTyped } from './typed';
import { showCoupon } from './view';

/** What was typed, read and checked. @throws Problem `invalid` with every fault at its field */
function readChecked(app: App, typed: CouponTyped, own: Id<'coupon'> | null): CouponFields {
  const { fields, faults } = readTyped(typed, theProgramme(app).base);
  if (!faults.length) return checkedCoupon(app, fields, own);
  const read = new Set(faults.map((f) => f.pointer));
  throw invalid([...faults, ...couponFaultsOf(app, fields, own).filter((f) => !read.has(f.pointer))]);
}

function make(app: App, actor: Actor, fields: CouponFields): Id<'coupon'> {
  const id = newId('coupon');
  addCoupon(app, fields, { id, createdAt: app.clock.now(), by: actor.id });
  record(app, actor, 'coupon-made', { subject: id, before: null, after: { code: fields.code } });
  return id;
}

export function createCoupon(app: App, actor: Actor, typed: CouponTyped): CouponOut {
  return showCoupon(app, make(app, actor, readChecked(app, typed, null)));
}

/** Changes a coupon. @throws Problem `invalid`; `stale` where somebody changed it meanwhile; or where what is planned could not follow */
export function editCoupon(
  app: App,
  actor: Actor,
  id: Id<'coupon'>,
  { version, ...typed }: BodyOf<typeof Edit>,
): CouponOut {
  const row = couponById(app, id);
  if (row.version !== version) throw stale(app, id, row.code, showCoupon(app, id));
  if (row.removedAt !== null)
    throw new Problem('conflict', `${row.code} was taken away; bring it back first`);
  const fields = readChecked(app, typed, id);
  checkFollows(app, id, couponFound(app, row), fields);
  const change = difference(couponFieldsOf(row), fields);
  if (Object.keys(change.after).length === 0) return showCoupon(app, id);
  changeCoupon(app, row, fields);
  record(app, actor, 'coupon-changed', { subject: id, ...change });
  return showCoupon(app, id);
}

/** Launches a coupon again: another one that gives the same, with dates of its own. */
export function relaunchCoupon(
  app: App,
  actor: Actor,
  id: Id<'coupon'>,
  { code, from, until }: BodyOf<typeof Relaunch>,
): CouponOut {
  const typed = typedOf(couponFieldsOf(couponById(app, id)), theProgramme(app).base);
  return showCoupon(
    app,
    make(app, actor, readChecked(app, { ...typed, code, from, until, active: true }, null)),
  );
}

/** Takes a coupon away, or brings it back as it was. @throws Problem `invalid` where another has its code by now */
export function removeCoupon(app: App, actor: Actor, id: Id<'coupon'>, away: boolean): CouponOut {
  const row = couponById(app, id);
  if ((row.removedAt !== null) === away) return showCoupon(app, id);
  if (!away) {
    const [fault] = couponFaultsOf(app, couponFieldsOf(row), id).filter((f) => f.pointer === '/code');
    if (fault) throw new Problem('conflict', fault.detail);
  }
  putCouponAway(app, row, away ? app.clock.now() : null);
  record(app, actor, away ? 'coupon-removed' : 'coupon-restored', {
    subject: id,
    before: null,
    after: { code: row.code },
  });
  return showCoupon(app, id);
}

/** A person says how a coupon stands in the shop. */
export function sayCoupon(app: App, actor: Actor, id: Id<'coupon'>, what: 'said' | 'refused'): CouponOut {
  const row = couponById(app, id);
  addEvidence(app, id, { kind: what, at: app.clock.now(), by: actor.id });
  record(app, actor, what === 'said' ? 'coupon-set-up' : 'coupon-refused', {
    subject: id,
    before: null,
    after: { code: row.code },
  });
  return showCoupon(app, id);
}

/** Plans changes of a coupon's fields. */
export function planCoupon(
  app: App,
  actor: Actor,
  id: Id<'coupon'>,
  { at, changes }: BodyOf<typeof Plan>,
): CouponOut {
  const { base } = theProgramme(app);
  const typed = typedOf(couponFieldsOf(couponById(app, id)), base);
  const { fields, faults } = readTyped({ ...typed, ...changes }, base);
  if (faults.length) throw invalid(faults);
  const own = couponFields.filter((field): field is CouponField => field in changes);
  const kept = Object.fromEntries(own.map((field) => [field, fields[field]]));
  planFor(app, actor, couponSubject, { id, at, changes: kept });
  return showCoupon(app, id);
}
