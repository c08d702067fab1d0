import fc from 'fast-check';
import { expect, it } from 'vitest';
import { readSize, shownSize, sizeName, sizeOfShape, usualSizes } from './sizes';

it.each([
  ['300x250', { width: 300, height: 250 }],
  [' 728 × 90 ', { width: 728, height: 90 }],
  ['160*600', { width: 160, height: 600 }],
  ['0x10', null],
  ['300', null],
  ['300x250x1', null],
  ['123456x1', null],
  ['-3x4', null],
])('“%s” is read as a size', (typed, size) => {
  expect(readSize(typed)).toEqual(size);
});

it('a name is read as what it names', () => {
  const side = fc.integer({ min: 1, max: 99_999 });
  fc.assert(
    fc.property(fc.record({ width: side, height: side }), (size) => {
      expect(readSize(sizeName(size))).toEqual(size);
    }),
  );
});

it('a picture drawn twice as dense counts as its usual size, another as it is', () => {
  for (const { width, height } of usualSizes) {
    expect(shownSize({ width, height })).toEqual({ width, height });
    expect(shownSize({ width: 2 * width, height: 2 * height })).toEqual({ width, height });
  }
  expect(shownSize({ width: 640, height: 480 })).toEqual({ width: 640, height: 480 });
  expect(shownSize({ width: 301, height: 251 })).toEqual({ width: 301, height: 251 });
});

it('a size that there is stands for its shape, else the one that most places have', () => {
  const cell = (width: number, height: number, count: number) => ({ width, height, count });
  const counted = [cell(300, 250, 0), cell(336, 280, 2), cell(160, 600, 0), cell(300, 600, 0)];
  expect(sizeOfShape(counted, 'box')).toEqual(cell(336, 280, 2));
  expect(sizeOfShape(counted, 'tower')).toEqual(cell(160, 600, 0));
  expect(sizeOfShape(counted, 'phone')).toBeUndefined();
});
