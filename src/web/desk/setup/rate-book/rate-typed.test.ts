import { describe, expect, it } from 'vitest';
import { Refused } from '../../../kit/api';
import {
  bodyOf,
  emptyRate,
  faultsByField,
  paymentsOf,
  readTyped,
  rewardOf,
  typedChange,
  type PlaceOfRate,
  type TypedRate,
} from './rate-typed';

const place: PlaceOfRate = {
  column: { of: 'card', id: 'set_makers' },
  row: { of: 'product', id: 'prd_wheel' },
  event: 'renewal',
  who: 'Makers',
  what: 'Wheel',
};
const typed = (more: Partial<TypedRate> = {}): TypedRate => ({ ...emptyRate('base'), ...more });

describe('a rate typed into a cell', () => {
  it('is a percent, or a flat amount with its currency', () => {
    expect(readTyped('12.5', 'EUR')).toEqual({ kind: 'percent', value: '12.5' });
    expect(readTyped(' 12.5 % ', 'EUR')).toEqual({ kind: 'percent', value: '12.5' });
    expect(readTyped('€6', 'EUR')).toEqual({ kind: 'flat-order', value: '6' });
    expect(readTyped('6.00 EUR', 'EUR')).toEqual({ kind: 'flat-order', value: '6.00' });
  });

  it('is nothing while it cannot be read', () => {
    for (const text of ['', 'twelve', '6.00 XYZ', '€', '1.2.3']) expect(readTyped(text, 'EUR')).toBeNull();
  });
});

describe('a rate of the form', () => {
  it('is sent with nothing that is empty', () => {
    expect(bodyOf(typed({ value: '10' }), { ...place, event: 'sale' })).toEqual({
      column: place.column,
      row: place.row,
      event: 'sale',
      mode: 'base',
      reward: { kind: 'percent', value: '10' },
      payments: null,
      cap: null,
      from: null,
      until: null,
      label: '',
    });
  });

  it('has amounts in other currencies only where it is flat, and only those that name one', () => {
    const also = [
      { currency: 'usd', value: '6.50' },
      { currency: '', value: '7' },
    ];
    expect(rewardOf(typed({ kind: 'flat-order', value: '6', also }))).toEqual({
      kind: 'flat-order',
      value: '6',
      also: { USD: '6.50' },
    });
    expect(rewardOf(typed({ value: '6', also }))).toEqual({ kind: 'percent', value: '6' });
  });

  it('is for some payments of a renewal alone, and for all of everything else', () => {
    const range = { on: true, first: '3', last: '', after: 'next' } as const;
    expect(paymentsOf(typed({ range }), 'renewal')).toEqual({ first: 3, last: null, after: 'next' });
    expect(paymentsOf(typed({ range: { ...range, first: 'x', last: '6' } }), 'renewal')).toEqual({
      first: 2,
      last: 6,
      after: 'next',
    });
    expect(paymentsOf(typed({ range }), 'sale')).toBeNull();
    expect(paymentsOf(typed({ range: { ...range, on: false } }), 'renewal')).toBeNull();
  });
});

describe('the change that is estimated', () => {
  const change = (rate: TypedRate) =>
    typedChange(place, { ...rate, reward: rewardOf(rate), payments: paymentsOf(rate, place.event) }, 'EUR');

  it('says what the typed words say', () => {
    const found = change(typed({ kind: 'flat-unit', value: '2.50', cap: '20' }));
    expect(found).toMatchObject({
      op: 'add',
      rate: {
        mode: 'base',
        event: 'renewal',
        reward: { type: 'flat-unit', amount: 250 },
        cap: 2000,
        what: { type: 'product', product: 'prd_wheel' },
      },
    });
  });

  it('is none while a band or the reward cannot be read', () => {
    const band = { from: '60', kind: 'percent', value: '10' } as const;
    expect(change(typed({ kind: 'bands', bands: [band] }))).toMatchObject({
      rate: { reward: { type: 'bands', bands: [{ from: 6000, pay: { type: 'percent', ppm: 100_000 } }] } },
    });
    expect(change(typed({ kind: 'bands', bands: [band, { ...band, value: '' }] }))).toBeNull();
    expect(change(typed({ value: '' }))).toBeNull();
  });
});

it('faults of a refused rate stand at their fields, with an example', () => {
  const refused = new Refused({
    type: '',
    code: 'invalid',
    title: 'Refused',
    status: 422,
    detail: 'It is refused.',
    errors: [
      { pointer: '/reward/value', detail: 'The reward is empty', example: '12.5' },
      { pointer: '/cap', detail: 'The cap is no amount' },
    ],
  });
  expect(faultsByField(refused)).toEqual({
    reward: 'The reward is empty, such as “12.5”',
    cap: 'The cap is no amount',
  });
  expect(faultsByField(new TypeError('gone'))['']).toContain('kept');
});
