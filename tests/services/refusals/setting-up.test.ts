import { describe, expect, it } from 'vitest';
import { nothing, prepare, says, type Refused } from './world';

// what nobody meets on the way that is walked every day: each refusal says which field, and why
prepare();

const rate = {
  column: { of: 'everyone' },
  row: { of: 'everything' },
  event: 'sale',
  mode: 'base',
  reward: { kind: 'percent', value: '20' },
};
const referral = { percent: '10', of: 'commission', months: '' };
const recruiting = {
  categories: [],
  vouchedIn: true,
  refundLine: '20',
  inviteDays: 14,
  messagesPerDay: 100,
  version: 3,
};
const exchange = { currency: 'USD', day: '2027-01-01', rate: '1.1' };
const money = {
  ...{ bufferDays: 0, clearing: 'automatic', minimumPayout: '1.00', approvalAbove: '', promiseDays: 14 },
  ...{ debtorName: 'Quernstone Clayworks', debtorIban: 'PT50000201231234567890154', version: 3 },
};
const newcomer = {
  ...{ name: 'Rui', email: 'rui@quernstone.example', role: 'manager', password: 'clay on the wheel at dawn' },
};

describe('a product', () => {
  it.each<Refused>([
    [`GET products/${nothing('prd')}`, undefined, '404 This product does not exist'],
    [`GET products/${nothing('prd')}/co-owners`, undefined, '404 This product does not exist'],
    [
      'POST products/:products/state',
      { state: 'draft', version: 2 },
      '409 A product that is live cannot become draft',
    ],
    [
      'POST products/:products/state',
      { state: 'live', version: 11 },
      '409 Inês Falcão changed this product meanwhile, at that moment. Your values are kept in the form; compare and save again.',
    ],
    [
      'POST funnels',
      { name: 'x', opening: nothing('prd'), first: null, steps: [] },
      '422 /opening: The opening product does not exist',
    ],
    [`POST funnels/${nothing('fun')}/remove`, { version: 1 }, '404 This funnel does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a card, group or tag', () => {
  it.each<Refused>([
    [`POST sets/${nothing('set')}/standard`, undefined, '404 This card, group or tag does not exist'],
    [`GET sets/${nothing('set')}/members`, undefined, '404 This card, group or tag does not exist'],
    ['POST sets/set_standard/pause', { on: true }, '409 Only groups can be paused'],
    [
      'POST sets/set_standard/members/drop',
      { affiliates: [':affiliates'] },
      '409 Everyone is on exactly one card: put them on another instead',
    ],
    [
      'POST sets/set_standard/remove',
      { to: null, version: 1 },
      '409 The card that newcomers begin on cannot be removed; make another the one first',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('the rate book', () => {
  it.each<Refused>([
    ['GET rate-book?day=2027-02-31', undefined, '422 /day: Day is not a day of the calendar'],
    [
      `GET rate-book/ask?column=everyone&product=${nothing('prd')}`,
      undefined,
      '404 This product does not exist',
    ],
    [
      'GET rate-book/ask?column=everyone&product=:products&currency=XAU',
      undefined,
      '422 /currency: Currency XAU is not known',
    ],
    [
      `GET rate-book/ask?column=affiliate&who=${nothing('aff')}&product=:products`,
      undefined,
      '422 /column: Column: this affiliate does not exist',
    ],
    [
      'GET rate-book/ask?column=everyone&product=:products&value=ten',
      undefined,
      '422 /value: Order value: “ten” is not an amount; write digits with a point',
    ],
    ['POST draft/switches', { op: 'pause', id: 'set_standard', on: true }, '409 Only groups can be paused'],
    [
      'POST draft/rates',
      { ...rate, column: { of: 'card', id: nothing('set') } },
      '404 This card, group or tag does not exist',
    ],
    [
      'POST draft/rates',
      { ...rate, row: { of: 'product', id: nothing('prd') } },
      '422 /row: Row: this product does not exist',
    ],
    [
      'POST draft/rates',
      { ...rate, reward: { kind: 'percent', value: '120' } },
      '422 /reward: Reward: more than 100 % of a sale cannot be paid',
    ],
    [`POST timeline/${nothing('rat')}/undo`, undefined, '404 This change does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a rehearsal', () => {
  it.each<Refused>([
    [`GET rehearsals/${nothing('reh')}`, undefined, '404 This rehearsal does not exist'],
    [
      'POST rehearsals',
      { from: '2026-02-31', to: '2027-01-01' },
      '422 /from: From is not a day of the calendar',
    ],
    ['POST rehearsals', { from: '2027-01-01', to: '2027-02-31' }, '422 /to: To is not a day of the calendar'],
    ['POST rehearsals', { from: '2027-01-02', to: '2027-01-01' }, '422 /to: To lies before from, 2027-01-02'],
    [
      `GET rehearsals/:rehearsals/lines/${nothing('ord')}?position=0`,
      undefined,
      '404 This sale does not exist',
    ],
    ['GET rehearsals/:rehearsals/lines/:orders?position=9', undefined, '404 This line does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a share of what is sold or of what is earned', () => {
  it.each<Refused>([
    [
      'PUT affiliates/:affiliates/referral',
      { ...referral, by: ':affiliates' },
      '422 /by: Nobody brings in themselves: choose another affiliate',
    ],
    [
      'PUT affiliates/:affiliates/referral',
      { ...referral, by: nothing('aff') },
      '404 This affiliate does not exist',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('the policy', () => {
  it.each<Refused>([
    [`GET policies/${nothing('pol')}`, undefined, '404 This version of the policy does not exist'],
    [`POST policies/${nothing('pol')}/drop`, undefined, '404 This version of the policy does not exist'],
    [
      'POST policies/:policies/publish',
      { version: 99, empty: [] },
      '409 Inês Falcão changed the draft meanwhile, at that moment. Your values are kept in the form; compare and save again.',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('settings', () => {
  it.each<Refused>([
    [
      'PUT settings/recruiting',
      { ...recruiting, categories: ['Nothing'] },
      '422 /categories: Categories: “Nothing” is not in the list',
    ],
    [
      'PUT settings/recruiting',
      { ...recruiting, refundLine: '200' },
      '422 /refundLine: Refund rate that is too high: no more than 100 % of sales come back',
    ],
    ['PUT settings/exchange', { ...exchange, currency: 'XAU' }, '422 /currency: Currency XAU is not known'],
    [
      'PUT settings/exchange',
      { ...exchange, currency: 'EUR' },
      '422 /currency: EUR is the base currency and needs no rate',
    ],
    [
      'PUT settings/exchange',
      { ...exchange, day: '2027-02-31' },
      '422 /day: From is not a day of the calendar',
    ],
    [
      'PUT settings/exchange',
      { ...exchange, rate: '0' },
      '422 /rate: Rate: write how much USD one EUR buys, above zero, with at most six decimals',
    ],
    [
      'PUT settings/money',
      { ...money, minimumPayout: '1.005', approvalAbove: 'x', debtorIban: 'PT00' },
      '422 /minimumPayout: Minimum payout: EUR has at most 2 decimals, “1.005” has 3 | /approvalAbove: Second approval above: “x” is not an amount; write digits with a point | /debtorIban: IBAN: the check digits do not fit, so a digit is wrong, missing or swapped',
    ],
    [
      'POST staff',
      { ...newcomer, email: 'owner@quernstone.example' },
      '422 /email: E-mail address owner@quernstone.example belongs to somebody of the staff already',
    ],
    [
      'POST staff',
      { ...newcomer, password: 'rui' },
      '422 /password: Password is too short: at least 12 characters',
    ],
    [
      `PUT staff/${nothing('stf')}`,
      { role: 'viewer', active: true, version: 1 },
      '404 This person does not exist',
    ],
    ['POST clock', { by: 'century' }, '422 /by: By must be one of day, week, month'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});
