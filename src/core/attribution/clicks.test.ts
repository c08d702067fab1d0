import { describe, expect, it } from 'vitest';
import { countedClicks, runsOf } from './clicks';

const click = (at: number, visitor: string | null) => ({ id: `vis_${at}`, at, visitor });

describe('clicks that count', () => {
  it('are each visitor’s first of the day, and every one of nobody known', () => {
    expect(countedClicks([click(1, 'a'), click(2, 'b'), click(3, 'a'), click(4, null), click(5, null)]).map((c) => c.at)).toEqual([1, 2, 4, 5]);
    expect(countedClicks([])).toEqual([]);
  });
  it('are parted where the terms change, and where they change back', () => {
    expect(runsOf([1, 2, 5, 6, 1], (n) => (n < 5 ? 'low' : 'high'))).toEqual([{ key: 'low', items: [1, 2] }, { key: 'high', items: [5, 6] }, { key: 'low', items: [1] }]);
  });
});
