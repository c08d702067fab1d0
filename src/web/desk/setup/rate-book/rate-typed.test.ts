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

describe('an amount typed into a cell', () => {
  it.each([
    ['€6', 'EUR'],
    ['6 €', 'EUR'],
    ['eur 6', 'EUR'],
    ['£6', 'GBP'],
    ['$6', 'USD'],
    ['US$ 6', 'USD'],
    ['¥6', 'JPY'],
    ['CHF 6', 'CHF'],
  ])('“%s” is a flat amount of a programme in %s', (text, base) => {
    expect(readTyped(text, base)).toEqual({ kind: 'flat-order', value: '6' });
  });
  it.each([
    ['£6', 'EUR'],
    ['6.00 $', 'EUR'],
    ['USD 6', 'EUR'],
    ['€6', 'GBP'],
    ['$6', 'JPY'],
  ])('“%s” in a programme in %s is none: it would pay another amount than was meant', (text, base) => {
    expect(readTyped(text, base)).toBeNull();
  });
  it.each(['', '€', '€-6', '€6.005', '€6€6', '101', 'six', '€1e3'])('“%s” is no reward', (text) => {
    expect(readTyped(text, 'EUR')).toBeNull();
  });
});

const changeAt = (at: Partial<PlaceOfRate>, rate: TypedRate) =>
  typedChange(
    { ...place, ...at },
    { ...rate, reward: rewardOf(rate), payments: paymentsOf(rate, place.event) },
    'EUR',
  );
const change = (rate: TypedRate) => changeAt({}, rate);

describe('the change that is estimated', () => {
  it.each<[PlaceOfRate['row'], object]>([
    [{ of: 'everything' }, { type: 'everything' }],
    [
      { of: 'kind', id: 'course' },
      { type: 'kind', kind: 'course' },
    ],
    [
      { of: 'step', id: 'stp_1' },
      { type: 'step', step: 'stp_1' },
    ],
  ])('on the row %j covers what stands there', (row, what) => {
    expect(changeAt({ row }, typed({ value: '10' }))).toMatchObject({ rate: { what } });
  });
  it.each<[PlaceOfRate['column'], object]>([
    [{ of: 'everyone' }, { rung: 'product', who: null }],
    [
      { of: 'tag', id: 'set_fairs' },
      { rung: 'tag', who: 'set_fairs' },
    ],
    [
      { of: 'affiliate', id: 'aff_loam' },
      { rung: 'personal', who: 'aff_loam' },
    ],
  ])('in the column %j is for who stands there', (column, expected) => {
    expect(changeAt({ column }, typed({ value: '10' }))).toMatchObject({ rate: expected });
  });
  it('is none where row or column is not what it says', () => {
    expect(changeAt({ row: { of: 'product', id: 'set_x' } }, typed({ value: '10' }))).toBeNull();
    expect(changeAt({ column: { of: 'card' } }, typed({ value: '10' }))).toBeNull();
    expect(changeAt({ column: { of: 'affiliate', id: 'set_x' } }, typed({ value: '10' }))).toBeNull();
  });
});

describe('what is estimated of it', () => {
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
