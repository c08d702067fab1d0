import { describe, expect, it } from 'vitest';
import type { Key } from './keys';
import { cursorKeys, selectKeys } from './list-keys';

const press = (keys: Key[], key: string) => keys.find((k) => k.key === key)!.act();

describe('the keys of a list', () => {
  it('move down and up, and say so in the words of the list', () => {
    const moved: number[] = [];
    const keys = cursorKeys({ row: null, move: (by) => moved.push(by) }, 'affiliate');
    press(keys, 'j');
    press(keys, 'k');
    expect(moved).toEqual([1, -1]);
    expect(keys.map((k) => k.what)).toEqual(['next affiliate', 'affiliate before']);
  });
  it('open the row that they are at, and nothing where they are at none', () => {
    const opened: string[] = [];
    const open = (row: string) => opened.push(row);
    press(cursorKeys({ row: 'Mara Loam', move: () => undefined }, 'affiliate', open), 'Enter');
    press(cursorKeys<string>({ row: null, move: () => undefined }, 'affiliate', open), 'Enter');
    expect(opened).toEqual(['Mara Loam']);
  });
  it('offer nothing to open where a row is the whole', () => {
    const keys = cursorKeys({ row: 'x', move: () => undefined }, 'line');
    expect(keys.some((k) => k.key === 'Enter')).toBe(false);
  });
});

describe('the keys of a selection', () => {
  const acts: string[] = [];
  const chosen = {
    toggle: (id: string) => acts.push(`toggle ${id}`),
    range: (id: string) => acts.push(`range ${id}`),
    clear: () => acts.push('clear'),
  };
  it('choose one, a range and nothing', () => {
    acts.length = 0;
    const keys = selectKeys('aff_1', chosen);
    for (const key of ['x', 'X', 'Escape']) press(keys, key);
    expect(acts).toEqual(['toggle aff_1', 'range aff_1', 'clear']);
  });
  it('choose nothing where they are at no row', () => {
    acts.length = 0;
    const keys = selectKeys(null, chosen);
    press(keys, 'x');
    press(keys, 'X');
    expect(acts).toEqual([]);
  });
});
