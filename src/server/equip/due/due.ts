import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { couponSubject } from '../coupons/subject';
import { creativeSubject } from '../creatives/subject';
import { letHappen, undoPlan } from '../planned/plan';

const subjects = [creativeSubject, couponSubject];

/** The planned changes of creatives and coupons that have come due, some at once. @returns how many */
export const applyPlanned = (app: App): number => letHappen(app, subjects);

export const undoPlanned = (app: App, actor: Actor, id: Id<'planned'>) => undoPlan(app, actor, subjects, id);
