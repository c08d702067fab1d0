import { describe, expect, it } from 'vitest';
import { say } from '../../../tests/helpers/terms';
import type { Id } from '../text/id';
import { applyDraft, asIfAlways, beginOf, replaces, type Change, type TermsData } from './draft';
import { nobody } from './members';
import type { Rate } from './rate';

const terms = (...rates: Rate[]): TermsData => ({ ...nobody, rates });
const add = (rate: Rate): Change => ({ op: 'add', rate });
/** Rates as “label from–until”, open ends as a star. */
const spans = ({ rates }: TermsData) => rates.map((r) => `${r.from}–${r.until ?? '*'}`);
const payments = ({ rates }: TermsData) =>
  rates.map((r) => (r.payments ? `${r.payments.first}–${r.payments.last ?? '*'}` : 'every'));

describe('a rate that is added', () => {
  it('ends the open one of its place, from its start', () => {
    const after = applyDraft(terms(say('card makers: 8 %')), [add(say('card makers: 9 % | from 100'))]);
    expect(spans(after)).toEqual(['0–100', '100–*']);
  });
  it('leaves one of another place, and one that has its end, as they are', () => {
    const present = [
      say('card media: 8 %'),
      say('card makers: 8 % | until 500'),
      say('card makers on A: 8 %'),
    ];
    const after = applyDraft(terms(...present), [add(say('card makers: 9 % | from 100'))]);
    expect(spans(after)).toEqual(['0–*', '0–500', '0–*', '100–*']);
  });
  it('for a time ends nothing: what stood before goes on after it', () => {
    const after = applyDraft(terms(say('card makers: 8 %')), [
      add(say('card makers: 20 % | from 100 | until 200')),
    ]);
    expect(spans(after)).toEqual(['0–*', '100–200']);
  });
  it('takes the place only of one that covers no further payment than itself', () => {
    const rateOf = (text: string) => say(`programme renewal ${text}: 10 %`);
    const later = (text: string) => ({ ...rateOf(text), from: 100 });
    expect(replaces(later('2–6'), rateOf('3–5'))).toBe(true);
    expect(replaces(later('2–6'), rateOf('2–6'))).toBe(true);
    expect(replaces(later('2–6'), rateOf('2–'))).toBe(false);
    expect(replaces(later('2–'), rateOf('4–6'))).toBe(true);
    expect(replaces({ ...say('programme renewal: 9 %'), from: 100 }, rateOf('2–6'))).toBe(true);
    expect(replaces(later('2–'), say('programme renewal: 9 %'))).toBe(true);
    expect(replaces(later('3–'), say('programme renewal: 9 %'))).toBe(false);
  });
  it('never ends an earlier uplift', () => {
    const after = applyDraft(terms(say('uplift: up to 9 %')), [add(say('uplift: up to 12 % | from 100'))]);
    expect(spans(after)).toEqual(['0–*', '100–*']);
  });
});

describe('what else a draft does', () => {
  it('ends a rate, never before it began and never after its own end', () => {
    const rates = [say('programme: 8 % | from 50'), say('programme: 9 % | from 50 | until 80')];
    const end = (at: number) => rates.map((r): Change => ({ op: 'end', id: r.id, at }));
    expect(spans(applyDraft(terms(...rates), end(60)))).toEqual(['50–60', '50–60']);
    expect(spans(applyDraft(terms(...rates), end(10)))).toEqual(['50–50', '50–50']);
    expect(spans(applyDraft(terms(...rates), end(90)))).toEqual(['50–90', '50–80']);
  });
  it('locks once, and lets go from the moment that is said', () => {
    const lock = (on: boolean, at: number): Change => ({
      op: 'lock',
      product: 'prd_A',
      event: 'sale',
      on,
      at,
    });
    const once = applyDraft(terms(), [lock(true, 100), lock(true, 150)]);
    expect(once.locks).toEqual([{ product: 'prd_A', event: 'sale', from: 100, until: null }]);
    expect(applyDraft(once, [lock(false, 200)]).locks).toEqual([
      { product: 'prd_A', event: 'sale', from: 100, until: 200 },
    ]);
    // let go before it began, it never was
    expect(applyDraft(once, [lock(false, 50)]).locks[0]).toMatchObject({ from: 100, until: 100 });
  });
  it('pauses one group and no other', () => {
    const pause = (group: Id<'set'>, on: boolean, at: number): Change => ({ op: 'pause', group, on, at });
    const after = applyDraft(terms(), [
      pause('set_G', true, 10),
      pause('set_H', true, 20),
      pause('set_G', false, 30),
    ]);
    expect(after.pauses).toEqual([
      { group: 'set_G', from: 10, until: 30 },
      { group: 'set_H', from: 20, until: null },
    ]);
  });
  it('begins when its change does', () => {
    expect(beginOf(add(say('programme: 8 % | from 77')))).toBe(77);
    expect(beginOf({ op: 'end', id: 'rat_x', at: 5 })).toBe(5);
  });
  it('changes nothing of what it was made from', () => {
    const before = terms(say('card makers: 8 %'));
    const copy = structuredClone(before);
    applyDraft(before, [
      add(say('card makers: 9 % | from 100')),
      { op: 'end', id: before.rates[0]!.id, at: 5 },
    ]);
    asIfAlways(before, [add(say('card makers: 9 % | from 100'))]);
    expect(before).toEqual(copy);
  });
});

describe('a draft as if it had held all along', () => {
  it('a rate stands alone in its place, over all days', () => {
    const after = asIfAlways(terms(say('card makers: 8 % | until 100'), say('card makers: 9 % | from 100')), [
      add(say('card makers: 20 % | from 500 | until 600')),
    ]);
    expect(spans(after)).toEqual(['0–*']);
  });
  it('for some payments it leaves the others to what was there', () => {
    const after = asIfAlways(terms(say('programme renewal: 5 %')), [add(say('programme renewal 4–6: 10 %'))]);
    expect(payments(after)).toEqual(['2–3', '7–*', '4–6']);
  });
  it('an uplift stands beside what is there', () => {
    const after = asIfAlways(terms(say('programme: 8 %')), [
      add(say('uplift: up to 12 % | from 100 | until 200')),
    ]);
    expect(spans(after)).toEqual(['0–*', '0–*']);
  });
  it('a rate that is ended never was, a switch holds for all time', () => {
    const present = {
      ...terms(say('programme: 8 %')),
      pauses: [{ group: 'set_G' as const, from: 5, until: 9 }],
    };
    const after = asIfAlways(present, [
      { op: 'end', id: present.rates[0]!.id, at: 50 },
      { op: 'pause', group: 'set_G', on: true, at: 50 },
      { op: 'lock', product: 'prd_A', event: 'renewal', on: true, at: 50 },
    ]);
    expect([after.rates, after.pauses, after.locks]).toEqual([
      [],
      [{ group: 'set_G', from: 0, until: null }],
      [{ product: 'prd_A', event: 'renewal', from: 0, until: null }],
    ]);
    expect(asIfAlways(present, [{ op: 'pause', group: 'set_G', on: false, at: 50 }]).pauses).toEqual([]);
  });
});
