import { describe, expect, it } from 'vitest';
import { nothing, prepare, says, type Refused } from './world';

// what nobody meets on the way that is walked every day: each refusal says which field, and why
prepare();

const decision = { timing: 'at-sale', reason: '', message: false };
const approves = { do: 'approve', timing: 'after-hold' };
const invite = { ids: [':prospects'], message: 'Would you like to join {programme}?' };

describe('an application', () => {
  it.each<Refused>([
    [`GET applications/${nothing('apl')}`, undefined, '404 This application does not exist'],
    [
      `POST applications/${nothing('apl')}/ask`,
      { question: 'Which?' },
      '404 This application does not exist',
    ],
    [
      'POST applications/:applications/change',
      { ...decision, decision: 'approve' },
      '409 This application is asked; decide it first',
    ],
    [
      'POST applications/decide',
      { ids: [':applications'], decision: 'approve', reason: '', message: false },
      '422 /timing: Timing is missing: at sale or after hold',
    ],
    [
      'POST applications/decide',
      { ids: [':applications'], decision: 'decline', reason: '', message: true },
      '422 /reason: Reason is empty: it is kept with the decision, and sent if you choose so',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a screening rule', () => {
  it.each<Refused>([
    [`POST screening/${nothing('rul')}/remove`, undefined, '404 This rule does not exist any more'],
    [
      'PUT screening',
      { ids: [nothing('rul')] },
      '409 Rules were added or removed meanwhile; look again and repeat',
    ],
    [
      'POST screening',
      { conditions: {}, outcome: approves },
      '422 /conditions: Without a condition the rule would approve everybody',
    ],
    [
      'POST screening',
      { conditions: { refundsMost: '101' }, outcome: approves },
      '422 /refundsMost: Refund rate, at most: no more than 100 % of sales come back',
    ],
    [
      'POST screening',
      { conditions: { products: [nothing('prd')] }, outcome: approves },
      '422 /products: Products: one of them was retired or does not exist',
    ],
    [
      'POST screening',
      { conditions: { note: true }, outcome: { do: 'approve' } },
      '422 /timing: Timing is missing: at sale or after hold',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('an affiliate', () => {
  it.each<Refused>([
    [`GET affiliates/${nothing('aff')}`, undefined, '404 This affiliate does not exist'],
    [
      'PUT affiliates/:affiliates/sorting',
      { kind: 'podcast', version: 99 },
      '409 Inês Falcão changed Loam Letters meanwhile, at that moment. Your values are kept in the form; compare and save again.',
    ],
    [
      'PUT affiliates/:affiliates/trust',
      { on: true, until: '2027-02-31', atSale: false },
      '422 /until: Until: 2027-02-31 is not a day of the calendar',
    ],
    [
      'PUT affiliates/:affiliates/trust',
      { on: true, until: '2027-03-01', atSale: false },
      '422 /until: Until: 2027-03-01 is over already',
    ],
    [
      'POST affiliates/:affiliates/permissions',
      { practice: 'nothing', allowed: true, words: '', replaces: null },
      '422 /practice: Practice has a form that is not accepted',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('an act on many affiliates', () => {
  it.each<Refused>([
    [
      'POST affiliates/bulk',
      { ids: [':affiliates'], what: 'group', to: nothing('set') },
      '422 /to: This group does not exist any more',
    ],
    [`POST affiliates/bulk/${nothing('blk')}/undo`, undefined, '404 This act does not exist'],
    [`POST segments/${nothing('seg')}/remove`, { on: true }, '404 This segment does not exist'],
    [
      'POST segments',
      { name: 'Active', filter: {}, columns: [] },
      '409 Inês Falcão changed “Active” meanwhile, at that moment. Your values are kept in the form; compare and save again.',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a list of affiliates', () => {
  it.each<Refused>([
    ['POST affiliates/import/preview', { csv: '' }, '422 /csv: List is empty'],
    [
      'POST affiliates/import/preview',
      { csv: 'nothing,here\n1,2\n' },
      '422 /csv: List: the heading names neither “handle” nor “email”, so nobody can be told apart',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a letter', () => {
  it.each<Refused>([
    [`POST templates/${nothing('tpl')}/remove`, undefined, '404 This template does not exist'],
    [
      'POST messages',
      { ids: [':affiliates'], subject: '{nothing}', body: 'Good news', kind: 'letter' },
      '422 /subject: {nothing} cannot be filled in: known are {name}, {handle}, {programme}, {portal}, {join}, and the rate or price of a product by its code',
    ],
    [
      'POST notices',
      { kind: 'news', title: 'T', body: '{price NOTHING-1}', product: null },
      '422 /body: {price NOTHING-1} cannot be filled in',
    ],
    [
      'POST notices',
      { kind: 'news', title: 'T', body: 'B', product: nothing('prd') },
      '422 /product: Product: it does not exist',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('an offer page', () => {
  it.each<Refused>([
    [
      `POST offers/${nothing('off')}/live`,
      { on: true, version: 1 },
      '404 This offer page does not exist any more',
    ],
    [
      'POST offers/:offers/live',
      { on: true, version: 99 },
      '409 Inês Falcão changed this page meanwhile, at that moment. Your values are kept in the form; compare and save again.',
    ],
    ['POST offers/:offers/answer', { text: 'Here it is' }, '409 The reviewer has no question open'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a partner of the registry', () => {
  it.each<Refused>([
    ['GET prospects/P-99999999', undefined, '404 There is no partner P-99999999 in our copy of the registry'],
    [
      'POST prospects/invite',
      { ...invite, message: 'Hello to {nothing}' },
      '422 /message: {nothing} cannot be filled in: known are {name}, {programme}, {join}, and the rate or price of a product by its code',
    ],
    [
      'POST prospects/invite',
      { ...invite, product: nothing('prd') },
      '422 /product: Product: it is not live',
    ],
    [
      'POST prospects/tags',
      { ids: [':prospects'], tag: nothing('set'), on: true },
      '422 /tag: Tag: it does not exist any more',
    ],
    [`POST invites/${nothing('inv')}/withdraw`, undefined, '404 This invitation does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});
