import { describe, expect, it } from 'vitest';
import { say } from '../../../tests/helpers/terms';
import { buildBook } from './book';
import { cellOf, placeOf, termsOfColumn, type Column, type Row } from './cell';
import { buildRoll, nobody, type Memberships } from './members';

const everything: Row = { what: { type: 'everything' }, sold: null };
const kind: Row = { what: { type: 'kind', kind: 'one-off' }, sold: null };
const product: Row = {
  what: { type: 'product', product: 'prd_A' },
  sold: { product: 'prd_A', kind: 'one-off' },
};
const everyone: Column = { of: 'everyone' };
const makers: Column = { of: 'card', id: 'set_makers' };

function cell(
  rates: string[],
  {
    column = everyone,
    row = product,
    event = 'sale' as const,
    payment = 1,
    more = {} as Partial<Memberships>,
  } = {},
) {
  return cellOf(buildBook(rates.map(say)), buildRoll({ ...nobody, ...more }), {
    column,
    row,
    event,
    payment,
    at: 100,
    currency: 'EUR',
  });
}
const shown = (...asked: Parameters<typeof cell>) => {
  const { text, from } = cell(...asked);
  return `${text}, ${from}`;
};

describe('a cell of the rate book', () => {
  it('says where its rate was set: here, in another row of the column, on another rung, or nowhere', () => {
    expect(shown(['product A: 20 %', 'programme: 8 %'])).toBe('20 %, here');
    expect(shown(['programme: 8 %'], { row: everything })).toBe('8 %, here');
    expect(shown(['programme: 8 %'])).toBe('8 %, elsewhere');
    expect(shown(['card makers: 12 %', 'programme: 8 %'], { column: makers })).toBe('12 %, column');
    expect(shown(['card makers on A: 15 %', 'card makers: 12 %'], { column: makers })).toBe('15 %, here');
    expect(shown(['programme: 8 %'], { column: makers })).toBe('8 %, elsewhere');
    expect(shown([])).toBe('—, nothing');
  });
  it('says in full what stands short in it', () => {
    expect(cell(['product A: 20 % | cap 12.00']).full).toContain('at most €12.00');
    expect(cell([]).full).toBe('no rate applies');
  });
  it('a kind and everything are rows of their own: what is on one product does not reach them', () => {
    expect(shown(['product A: 20 %', 'programme: 8 %'], { row: everything })).toBe('8 %, here');
    expect(shown(['card makers on kind one-off: 10 %'], { column: makers, row: kind })).toBe('10 %, here');
    expect(shown(['card makers on kind one-off: 10 %'], { column: makers, row: everything })).toBe(
      '—, nothing',
    );
  });
  it('a locked product shows its own rate in every column', () => {
    const more = { locks: [{ product: 'prd_A' as const, event: 'sale' as const, from: 0, until: null }] };
    const rates = ['card makers: 12 %', 'product A: 3 %', 'uplift: up to 30 %'];
    const locked = cell(rates, { column: makers, more });
    expect([locked.text, locked.from, locked.locked, locked.uplift]).toEqual([
      '3 %',
      'elsewhere',
      true,
      null,
    ]);
  });
  it('a paused group earns as its members would outside of it', () => {
    const column: Column = { of: 'group', id: 'set_G' };
    const rates = ['group G: 30 %', 'programme: 8 %'];
    expect(shown(rates, { column })).toBe('30 %, column');
    const more = { pauses: [{ group: 'set_G' as const, from: 50, until: 150 }] };
    expect(shown(rates, { column, more })).toBe('8 %, elsewhere');
  });
});

describe('a cell with an uplift, a range of payments, a standard card', () => {
  it('a group and a tag stand on the standard card', () => {
    const more = { defaultCard: 'set_standard' as const };
    expect(shown(['card standard: 9 %'], { column: { of: 'tag', id: 'set_t' }, more })).toBe(
      '9 %, elsewhere',
    );
  });
  it('shows the uplift that raises most, and none that raises nothing', () => {
    const raised = cell(['programme: 8 %', 'uplift: up to 10 %', 'uplift: plus 5 %']);
    expect([raised.text, raised.uplift?.mode]).toEqual(['13 %', 'plus']);
    const idle = cell(['programme: 12 %', 'uplift: up to 10 %']);
    expect([idle.text, idle.uplift]).toEqual(['12 %', null]);
    expect(cell(['uplift: up to 10 %']).text).toBe('10 %');
  });
  it('an amount that an uplift adds to a percentage stands beside it', () => {
    const raised = cell(['programme: 8 %', 'uplift: plus 5.00 flat']);
    expect([raised.text, raised.uplift !== null]).toEqual(['8 % + €5.00', true]);
  });
  it('a percentage raises no lead, which has no value', () => {
    const rates = ['programme lead: 0.40 flat', 'uplift lead: plus 5 %'];
    const lead = cellOf(buildBook(rates.map(say)), buildRoll(nobody), {
      ...{ column: everyone, row: product, event: 'lead', payment: 1, at: 100, currency: 'EUR' },
    });
    expect([lead.text, lead.uplift]).toEqual(['€0.40', null]);
  });
  it('says that the payments which earn are used up', () => {
    const rates = ['product A renewal 2–6 then nothing: 10 %'];
    const cellFor = (payment: number) =>
      cellOf(buildBook(rates.map(say)), buildRoll(nobody), {
        column: everyone,
        row: { ...product, sold: { product: 'prd_A', kind: 'recurring' } },
        event: 'renewal',
        payment,
        at: 100,
        currency: 'EUR',
      });
    expect([cellFor(2).text, cellFor(6).text, cellFor(7).text]).toEqual(['10 %', '10 %', 'nothing']);
  });
});

describe('the place of a rate that is set in a cell', () => {
  it.each([
    [everyone, everything, 'programme', null],
    [everyone, kind, 'programme', null],
    [everyone, product, 'product', null],
    [makers, product, 'card', 'set_makers'],
    [{ of: 'tag', id: 'set_t' } as Column, everything, 'tag', 'set_t'],
    [
      {
        of: 'affiliate',
        id: 'aff_ann',
        terms: { affiliate: 'aff_ann', card: null, group: null, tags: [] },
      } as Column,
      product,
      'personal',
      'aff_ann',
    ],
  ])('%j on %j: %s', (column, row, rung, who) => {
    expect(placeOf(column, row.what)).toEqual({ rung, who });
  });
  it('is found again by the terms that stand for the column', () => {
    const roll = buildRoll({ ...nobody, defaultCard: 'set_standard' });
    expect(termsOfColumn(makers, roll, 0)).toMatchObject({ card: 'set_makers', group: null, tags: [] });
    expect(termsOfColumn({ of: 'group', id: 'set_G' }, roll, 0)).toMatchObject({
      card: 'set_standard',
      group: { id: 'set_G', paused: false },
    });
    expect(termsOfColumn(everyone, roll, 0).card).toBeNull();
  });
});
