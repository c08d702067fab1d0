import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { dropDraft, keepDraft, readDraft } from './draft';

/** What a browser keeps, as far as a draft asks for it. */
const kept = new Map<string, string>();
beforeEach(() => {
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  });
});
afterEach(() => {
  kept.clear();
  vi.unstubAllGlobals();
});

describe('what was typed and not saved', () => {
  it('is there again, with what it began from', () => {
    keepDraft('prd_1', { values: { name: 'Wheel' }, version: 3 });
    expect(readDraft('prd_1')).toEqual({ values: { name: 'Wheel' }, version: 3 });
  });
  it('belongs to one record', () => {
    keepDraft('prd_1', { name: 'Wheel' });
    expect(readDraft('prd_2')).toBeNull();
  });
  it('is gone once it is saved, and asking again changes nothing', () => {
    keepDraft('prd_1', { name: 'Wheel' });
    dropDraft('prd_1');
    dropDraft('prd_1');
    expect(readDraft('prd_1')).toBeNull();
  });
  it('that somebody else wrote is none, rather than a page that does not open', () => {
    keepDraft('prd_1', { name: 'Wheel' });
    const [key] = [...kept.keys()];
    kept.set(key!, '{"name": "Wh');
    expect(readDraft('prd_1')).toBeNull();
  });
  it('stands under a name of our own, beside what other pages keep', () => {
    keepDraft('prd_1', {});
    expect([...kept.keys()]).toEqual(['gravenel-typed-prd_1']);
  });
  it('where the browser keeps nothing or has no room, is none, and typing goes on', () => {
    const refuse = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    vi.stubGlobal('localStorage', { getItem: refuse, setItem: refuse, removeItem: refuse });
    keepDraft('prd_1', { name: 'Wheel' });
    dropDraft('prd_1');
    expect(readDraft('prd_1')).toBeNull();
  });
});
