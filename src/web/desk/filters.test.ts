import { describe, expect, it } from 'vitest';
import { columnsIn, columnsText, filterIn as rosterFilter, sortIn } from './recruit/affiliates/filter';
import { filterIn as prospectFilter } from './recruit/prospects/filter';
import { picturedIn, filterIn as salesFilter } from './track/sales/filter';

const address = (text: string) => new URLSearchParams(text);

describe('the filter that an address holds', () => {
  it('of the roster: what is set, and nothing of what is empty or unknown', () => {
    expect(rosterFilter(address('state=active&q=loam&tag=&x=1'))).toEqual({ state: 'active', q: 'loam' });
    expect([sortIn(address('sort=newest')), sortIn(address('sort=size'))]).toEqual(['newest', 'name']);
  });

  it('of the roster: columns that there are, in the order that was asked for; the usual ones say nothing', () => {
    expect(columnsIn(address('columns=email,nonsense,country'))).toEqual(['email', 'country']);
    const usual = columnsIn(address(''));
    expect(columnsText(usual)).toBe('');
    expect(columnsText([...usual, 'email'])).toBe([...usual, 'email'].join(','));
  });

  it('of prospects: figures as figures, states that there are', () => {
    expect(prospectFilter(address('q=clay&standing=60&vouched=1&state=invited'))).toEqual({
      q: 'clay',
      standing: 60,
      vouched: true,
      state: 'invited',
    });
    expect(prospectFilter(address('state=nothing&kind='))).toEqual({});
  });

  it('of sales: credited or not, and which of the unconfirmed', () => {
    expect(salesFilter(address('credited=no&from=2027-01-01&affiliate=aff_1'))).toEqual({
      credited: 'no',
      from: '2027-01-01',
      affiliate: 'aff_1',
    });
    expect(salesFilter(address('credited=perhaps'))).toEqual({});
    expect(picturedIn(address(''))).toBeNull();
    expect(picturedIn(address('unconfirmed=1'))).toBe('open');
    expect(picturedIn(address('unconfirmed=set-aside'))).toBe('set-aside');
  });
});
