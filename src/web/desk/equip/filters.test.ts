import { Ajv } from 'ajv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { listCoupons } from '../../../contract/equip/coupons';
import { listCreatives } from '../../../contract/equip/creatives';
import { audienceKinds, creativeKinds, creativeStates, shopStates } from '../../../core/material/lists';
import { filterIn as couponsIn } from './coupons/filter';
import { filterIn as creativesIn, isNarrowed } from './creatives/filter';

const params = (text: string) => new URLSearchParams(text);

describe('the filter of the sample book in the address', () => {
  it('has what was chosen, and nothing for what was not', () => {
    expect(creativesIn(params(''))).toEqual({});
    expect(
      creativesIn(
        params(
          'kind=banner&product=prd_0000000000000000000a&audience=tag&state=on&size=300x250&subject=Easter&language=fr&q=wheel&order=clicks',
        ),
      ),
    ).toEqual({
      kind: 'banner',
      product: 'prd_0000000000000000000a',
      audience: 'tag',
      state: 'on',
      size: '300x250',
      subject: 'Easter',
      language: 'fr',
      q: 'wheel',
      order: 'clicks',
    });
  });

  it.each([
    ['product=programme', { product: 'programme' }],
    ['audience=set_0000000000000000000a', { audience: 'set_0000000000000000000a' }],
    ['state=unused', { state: 'unused' }],
    ['state=removed', { state: 'removed' }],
  ])('%s', (text, filter) => {
    expect(creativesIn(params(text))).toEqual(filter);
  });

  it('does not take what is none of its words', () => {
    expect(creativesIn(params('kind=poster&product=WHEEL-1&audience=all&state=new&order=best'))).toEqual({});
  });

  it('is narrowed by anything but its order', () => {
    expect(isNarrowed({})).toBe(false);
    expect(isNarrowed({ order: 'clicks' })).toBe(false);
    expect(isNarrowed({ order: 'clicks', q: 'wheel' })).toBe(true);
  });
});

describe('the filter of the coupons in the address', () => {
  it('has what was chosen, and nothing for what was not', () => {
    expect(couponsIn(params(''))).toEqual({});
    expect(
      couponsIn(params('state=ended&shop=never&product=prd_0000000000000000000a&owner=somebody&q=WHEEL')),
    ).toEqual({
      state: 'ended',
      shop: 'never',
      product: 'prd_0000000000000000000a',
      owner: 'somebody',
      q: 'WHEEL',
    });
    expect(couponsIn(params('owner=aff_0000000000000000000a&state=removed'))).toEqual({
      owner: 'aff_0000000000000000000a',
      state: 'removed',
    });
  });

  it('does not take what is none of its words', () => {
    expect(couponsIn(params('state=new&shop=maybe&product=all&owner=me'))).toEqual({});
  });
});

describe('whatever an address holds', () => {
  const ajv = new Ajv({ strictSchema: false });
  const short = fc.string({ maxLength: 12 });
  const anything = (known: readonly string[]) => fc.option(fc.oneof(fc.constantFrom(...known), short));
  const ids = [
    'prd_0000000000000000000a',
    'aff_0000000000000000000a',
    'set_0000000000000000000a',
    'programme',
  ];
  const address = fc.record({
    kind: anything(creativeKinds),
    state: anything([...creativeStates, 'unused', 'removed']),
    shop: anything(shopStates),
    audience: anything([...audienceKinds, ...ids]),
    product: anything(ids),
    owner: anything([...ids, 'nobody', 'somebody']),
    size: anything(['300x250']),
    q: anything(['wheel']),
    order: anything(['clicks', 'newest']),
  });
  const typed = address.map(
    (fields) =>
      new URLSearchParams(
        Object.entries(fields).flatMap(([key, value]) => (value === null ? [] : [[key, value]])),
      ),
  );

  it.each([
    ['the sample book', listCreatives, creativesIn],
    ['the coupons', listCoupons, couponsIn],
  ] as const)('%s asks for nothing that its call refuses', (_, end, filterIn) => {
    const accepts = ajv.compile(end.query);
    let narrowed = 0;
    fc.assert(
      fc.property(typed, (found) => {
        const filter = filterIn(found);
        if (Object.keys(filter).length) narrowed += 1;
        expect(accepts(filter), JSON.stringify(filter)).toBe(true);
      }),
      { numRuns: 300, seed: 20270312 },
    );
    expect(narrowed).toBeGreaterThan(100);
  });
});
