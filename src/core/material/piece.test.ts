import { describe, expect, it } from 'vitest';
import { pieceAdvice, pieceFaults, type PieceFacts } from './piece';

const piece = (facts: Partial<PieceFacts> = {}): PieceFacts => ({
  links: 1,
  scripts: 0,
  handlers: 0,
  frames: 0,
  foreignHosts: [],
  formHosts: [],
  ...facts,
});

describe('why a piece of HTML cannot be taken', () => {
  it('one with a link that sends nothing elsewhere can', () => {
    expect(pieceFaults(piece())).toEqual([]);
    expect(pieceFaults(piece({ links: 3, scripts: 2, foreignHosts: ['fonts.example'] }))).toEqual([]);
  });
  it('without a link nobody earns', () => {
    expect(pieceFaults(piece({ links: 0 }))).toEqual([
      '{link} is missing: without it no click leads anywhere and nobody earns',
    ]);
  });
  it('a form that sends what readers type to somebody else, each host by name', () => {
    expect(pieceFaults(piece({ formHosts: ['lists.example', 'poll.example'] }))).toEqual([
      'a form sends what readers type to lists.example, which is not one of your hosts',
      'a form sends what readers type to poll.example, which is not one of your hosts',
    ]);
  });
  it('says all faults at once', () => {
    expect(pieceFaults(piece({ links: 0, formHosts: ['lists.example'] }))).toHaveLength(2);
  });
});

describe('what who puts it on a page should know', () => {
  it('nothing where there is nothing', () => {
    expect(pieceAdvice(piece())).toEqual([]);
  });
  it('that scripts are left out by many, whether they stand alone or in an attribute', () => {
    expect(pieceAdvice(piece({ scripts: 1 }))[0]).toMatch(/^It runs a script: many sites/);
    expect(pieceAdvice(piece({ handlers: 1 }))[0]).toMatch(/^It runs a script: many sites/);
    expect(pieceAdvice(piece({ scripts: 1, handlers: 2 }))[0]).toMatch(/^It runs 3 scripts/);
  });
  it('that frames open another page', () => {
    expect(pieceAdvice(piece({ frames: 1 }))).toEqual(['It opens a frame of another page.']);
    expect(pieceAdvice(piece({ frames: 2 }))).toEqual(['It opens 2 frames of another page.']);
  });
  it('whose hosts see the readers', () => {
    expect(pieceAdvice(piece({ foreignHosts: ['fonts.example', 'cdn.example'] }))).toEqual([
      'It loads from fonts.example, cdn.example: readers are seen there, and it breaks when that host does.',
    ]);
  });
  it('everything that holds, one after the other', () => {
    expect(pieceAdvice(piece({ scripts: 1, frames: 1, foreignHosts: ['cdn.example'] }))).toHaveLength(3);
  });
});
