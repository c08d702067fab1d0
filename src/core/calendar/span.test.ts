import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { doOverlap, endAt, inForce, isEmpty, isOver, type Span } from './span';

const moment = fc.integer({ min: 0, max: 12 });
const anySpan = fc.record({ from: moment, until: fc.option(moment, { nil: null }) }) as fc.Arbitrary<Span>;
/** Every moment of the small world in which spans are drawn, and some before and after. */
const moments = Array.from({ length: 20 }, (_, i) => i - 3);

describe('a span', () => {
  it('lasts from its start up to its end, which is not in it', () => {
    const span = { from: 5, until: 8 };
    expect(moments.filter((at) => inForce(span, at))).toEqual([5, 6, 7]);
    expect(moments.filter((at) => isOver(span, at))).toEqual([8, 9, 10, 11, 12, 13, 14, 15, 16]);
  });
  it('without an end is never over', () => {
    expect(moments.some((at) => isOver({ until: null }, at))).toBe(false);
    expect(isEmpty({ from: 5, until: null })).toBe(false);
  });
  it('is empty where no moment is in it', () => {
    fc.assert(
      fc.property(anySpan, (span) => {
        // one without an end lasts beyond the moments looked at
        const lasts = span.until === null || moments.some((at) => inForce(span, at));
        expect(isEmpty(span)).toBe(!lasts);
      }),
    );
  });
  it('is over, in force or to come at any moment, one of the three', () => {
    fc.assert(
      fc.property(
        anySpan.filter((span) => !isEmpty(span)),
        moment,
        (span, at) => {
          expect([isOver(span, at), inForce(span, at), at < span.from].filter(Boolean)).toHaveLength(1);
        },
      ),
    );
  });
  it('shares a moment with another exactly where both are in force', () => {
    fc.assert(
      fc.property(
        anySpan.filter((span) => !isEmpty(span)),
        anySpan.filter((span) => !isEmpty(span)),
        (a, b) => {
          expect(doOverlap(a, b)).toBe(moments.some((at) => inForce(a, at) && inForce(b, at)));
          expect(doOverlap(b, a)).toBe(doOverlap(a, b));
        },
      ),
    );
  });
  it('that is ended keeps what was before and nothing after, whenever that is', () => {
    fc.assert(
      fc.property(anySpan, moment, (span, at) => {
        const ended = { from: span.from, until: endAt(span, at) };
        for (const m of moments) expect(inForce(ended, m)).toBe(inForce(span, m) && m < at);
      }),
    );
  });
});
