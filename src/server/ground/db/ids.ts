import { randomBytes } from 'node:crypto';
import { prefixes, type Id, type IdKind } from '../../../core/text/id';

const digits = '0123456789abcdefghjkmnpqrstvwxyz';

let lastTime = 0;
let serial = 0;

/**
 * A new id: prefix, underscore, 9 characters of time and 4 of order within the millisecond, then 7 at random. Ids sort in the order they were made.
 */
export function newId<K extends IdKind>(kind: K): Id<K> {
  const now = Date.now();
  if (now > lastTime) {
    lastTime = now;
    serial = 0;
  } else serial += 1;
  let time = '';
  for (let rest = lastTime, i = 0; i < 9; i += 1, rest = Math.floor(rest / 32))
    time = digits[rest % 32]! + time;
  let order = '';
  for (let rest = serial, i = 0; i < 4; i += 1, rest = Math.floor(rest / 32))
    order = digits[rest % 32]! + order;
  return `${prefixes[kind]}_${time}${order}${randomText(7)}` as Id<K>;
}

let pool = randomBytes(4096);
let used = 0;

/** Random characters of the id alphabet, 5 bits each. */
export function randomText(length: number): string {
  if (used + length > pool.length) {
    pool = randomBytes(4096);
    used = 0;
  }
  let text = '';
  for (let i = 0; i < length; i += 1) text += digits[pool[used++]! & 31];
  return text;
}
