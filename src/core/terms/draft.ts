import { endAt, inForce } from '../calendar/span';
import type { Id } from '../text/id';
import { sameSlot } from './conflict';
import type { Lock, Memberships, Pause } from './members';
import { type Payments, type Rate } from './rate';

/** One change of terms that a draft holds. Moments are UTC milliseconds. */
export type Change =
  | { op: 'add'; rate: Rate }
  | { op: 'end'; id: Id<'rate'>; at: number }
  | { op: 'lock'; product: Id<'product'>; event: Lock['event']; on: boolean; at: number }
  | { op: 'pause'; group: Id<'set'>; on: boolean; at: number };

/** Everything that decides amounts. */
export interface TermsData extends Memberships {
  rates: readonly Rate[];
}

/** True if one range of payments holds all of another; null is every payment. */
function holdsAll(range: Payments | null, other: Payments | null): boolean {
  if (range === null) return true;
  if (other === null) return range.first <= 2 && range.last === null;
  return (
    range.first <= other.first && (range.last === null || (other.last !== null && other.last <= range.last))
  );
}

/**
 * True if adding a rate ends another: an open-ended one takes the place of the open-ended one before it. One for some payments
 * leaves a rate that reaches further running beneath it: where both could apply, the later start decides.
 */
export function replaces(added: Rate, present: Rate): boolean {
  return (
    added.mode === 'base' &&
    added.until === null &&
    present.until === null &&
    present.from < added.from &&
    sameSlot(added, present) &&
    holdsAll(added.payments, present.payments)
  );
}

/** What is left of a rate where another stands in its place for some payments: the payments before that one's and after them. */
function beside(present: Rate, added: Rate): Rate[] {
  const taken = added.payments;
  if (taken === null) return [];
  const own = present.payments ?? { first: 2, last: null, after: 'next' as const };
  const pieces: Rate[] = [];
  if (own.first < taken.first)
    pieces.push({
      ...present,
      payments: {
        first: own.first,
        last: own.last === null ? taken.first - 1 : Math.min(own.last, taken.first - 1),
        after: 'next',
      },
    });
  if (taken.last !== null && (own.last === null || own.last > taken.last))
    pieces.push({ ...present, payments: { ...own, first: Math.max(own.first, taken.last + 1) } });
  return pieces;
}

function closed<T extends { from: number; until: number | null }>(span: T, at: number): T {
  return { ...span, until: endAt(span, at) };
}

function switched<T extends Lock | Pause>(
  spans: readonly T[],
  mine: (span: T) => boolean,
  { on, at, begin }: { on: boolean; at: number; begin: () => T },
): readonly T[] {
  const running = spans.find((s) => mine(s) && inForce(s, at));
  if (on) return running ? spans : [...spans, begin()];
  return spans.map((s) => (mine(s) && (s.until === null || s.until > at) ? closed(s, at) : s));
}

/** The terms as they will be once a draft is saved: dated, nothing of the past altered. */
export function applyDraft(terms: TermsData, changes: readonly Change[]): TermsData {
  return changes.reduce<TermsData>((now, change) => {
    switch (change.op) {
      case 'add':
        return {
          ...now,
          rates: [
            ...now.rates.map((r) => (replaces(change.rate, r) ? closed(r, change.rate.from) : r)),
            change.rate,
          ],
        };
      case 'end':
        return { ...now, rates: now.rates.map((r) => (r.id === change.id ? closed(r, change.at) : r)) };
      case 'lock':
        return {
          ...now,
          locks: switched(now.locks, (l) => l.product === change.product && l.event === change.event, {
            on: change.on,
            at: change.at,
            begin: () => ({ product: change.product, event: change.event, from: change.at, until: null }),
          }),
        };
      case 'pause':
        return {
          ...now,
          pauses: switched(now.pauses, (p) => p.group === change.group, {
            on: change.on,
            at: change.at,
            begin: () => ({ group: change.group, from: change.at, until: null }),
          }),
        };
    }
  }, terms);
}

/**
 * The terms as if a draft had held all along: what a rehearsal replays the past under. A rate of the draft stands alone in its
 * place; a switch of the draft holds for all time.
 */
export function asIfAlways(terms: TermsData, changes: readonly Change[]): TermsData {
  return changes.reduce<TermsData>((now, change) => {
    switch (change.op) {
      case 'add': {
        const rate = { ...change.rate, from: 0, until: null };
        return {
          ...now,
          rates: [
            ...now.rates.flatMap((r) => (rate.mode === 'base' && sameSlot(rate, r) ? beside(r, rate) : [r])),
            rate,
          ],
        };
      }
      case 'end':
        return { ...now, rates: now.rates.filter((r) => r.id !== change.id) };
      case 'lock': {
        const others = now.locks.filter((l) => l.product !== change.product || l.event !== change.event);
        return {
          ...now,
          locks: change.on
            ? [...others, { product: change.product, event: change.event, from: 0, until: null }]
            : others,
        };
      }
      case 'pause': {
        const others = now.pauses.filter((p) => p.group !== change.group);
        return {
          ...now,
          pauses: change.on ? [...others, { group: change.group, from: 0, until: null }] : others,
        };
      }
    }
  }, terms);
}

/** When a change begins. */
export function beginOf(change: Change): number {
  return change.op === 'add' ? change.rate.from : change.at;
}
