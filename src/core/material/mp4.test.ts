import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foundIn, isMovingPng } from './found';
import { readMp4 } from './mp4';

const bytesOf = (...parts: (string | number[])[]): number[] =>
  parts.flatMap((part) => (typeof part === 'string' ? [...part].map((c) => c.charCodeAt(0)) : part));
const long = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const box = (name: string, ...content: (string | number[])[]): number[] => {
  const inside = bytesOf(...content);
  return bytesOf(long(inside.length + 8), name, inside);
};
const zeros = (n: number) => Array.from({ length: n }, () => 0);

/** A film of so many units, with a track of sound and one of pictures. */
const film = (length: number, unit: number) => [
  ...box('ftyp', 'isom', long(512), 'isomiso2mp41'),
  ...box(
    'moov',
    box('mvhd', [0, 0, 0, 0], zeros(8), long(unit), long(length), zeros(80)),
    box('trak', box('tkhd', zeros(84))),
    box('trak', box('tkhd', zeros(76), long(480 * 65_536), long(270 * 65_536))),
  ),
  ...box('mdat', 'film'),
];
const read = (bytes: number[]) => readMp4(new Uint8Array(bytes));

describe('an MP4 by its boxes', () => {
  it('says its size and length', () => {
    expect(read(film(24_000, 6_000))).toEqual({ ok: true, facts: { width: 480, height: 270, seconds: 4 } });
  });
  it('of version 1 has its length in eight bytes', () => {
    const bytes = [
      ...box('ftyp', 'mp42', long(0)),
      ...box('moov', box('mvhd', [1, 0, 0, 0], zeros(16), long(1_000), zeros(4), long(90_500), zeros(60))),
      ...box('mdat', ''),
    ];
    expect(read(bytes)).toEqual({ ok: true, facts: { width: null, height: null, seconds: 91 } });
  });
  it.each<[string, number[], RegExp]>([
    ['an archive', bytesOf('PK', [3, 4], zeros(60)), /does not begin as an MP4/],
    ['without a list of contents', [...box('ftyp', 'isom', long(0)), ...box('mdat', 'x')], /moov/],
    ['without a film', [...box('ftyp', 'isom', long(0)), ...box('moov', box('mvhd', zeros(100)))], /mdat/],
    [
      'with a part longer than itself',
      [...box('ftyp', 'isom', long(0)), ...long(9_999), ...bytesOf('moov')],
      /cut off/,
    ],
    [
      'of parts without end',
      [...box('ftyp', 'isom', long(0)), ...Array.from({ length: 2_100 }, () => box('free')).flat()],
      /too many parts/,
    ],
  ])('%s it is none', (_, bytes, why) => {
    const found = read(bytes);
    expect(found.ok ? 'taken' : found.why).toMatch(why);
  });
  it('cut off anywhere, or with any byte changed, it is answered and never thrown', () => {
    const whole = film(24_000, 6_000);
    fc.assert(
      fc.property(fc.nat(whole.length), fc.nat(whole.length - 1), fc.nat(255), (end, at, value) => {
        const bytes = whole.slice(0, end);
        if (at < bytes.length) bytes[at] = value;
        expect(typeof read(bytes).ok).toBe('boolean');
      }),
      { numRuns: 500 },
    );
  });
});

describe('what a file is by its first bytes', () => {
  it.each<[string, number[]]>([
    ['png', [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]],
    ['jpeg', [0xff, 0xd8, 0xff, 0xe0]],
    ['gif', bytesOf('GIF89a')],
    ['webp', bytesOf('RIFF', zeros(4), 'WEBP')],
    ['avif', box('ftyp', 'avif', long(0), 'mif1')],
    ['mp4', box('ftyp', 'isom', long(0))],
    ['svg', bytesOf('<?xml version="1.0"?>\n<svg onload="x()">')],
    ['html', bytesOf('  <!DOCTYPE html><html>')],
    ['html', bytesOf('<script>alert(1)</script>')],
    ['zip', bytesOf('PK', [3, 4])],
    ['pdf', bytesOf('%PDF-1.7')],
    ['text', bytesOf('Just words')],
    ['unknown', [1, 2, 3, 250]],
    ['unknown', []],
  ])('%s', (expected, bytes) => {
    expect(foundIn(new Uint8Array(bytes))).toBe(expected);
  });
  it('a PNG moves where it says so before its picture', () => {
    const head = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
    const chunk = (name: string) => bytesOf(long(0), name, zeros(4));
    expect(isMovingPng(new Uint8Array([...head, ...chunk('IHDR'), ...chunk('acTL'), ...chunk('IDAT')]))).toBe(
      true,
    );
    expect(isMovingPng(new Uint8Array([...head, ...chunk('IHDR'), ...chunk('IDAT'), ...chunk('acTL')]))).toBe(
      false,
    );
    expect(isMovingPng(new Uint8Array(head))).toBe(false);
  });
});
