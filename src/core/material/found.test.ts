import { expect, it } from 'vitest';
import { foundIn, foundWords, isMovingPng, type Found } from './found';

const bytes = (...parts: (string | number[])[]) =>
  Uint8Array.from(
    parts.flatMap((part) => (typeof part === 'string' ? [...part].map((c) => c.charCodeAt(0)) : part)),
  );
const png = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const box = (brands: string) => bytes([0, 0, 0, 8 + brands.length], 'ftyp', brands);
const chunk = (name: string, length: number) =>
  bytes([0, 0, 0, length], name, Array<number>(length + 4).fill(0));

it.each<[string, Uint8Array, Found]>([
  ['eight bytes of PNG', bytes(png), 'png'],
  ['a JPEG', bytes([0xff, 0xd8, 0xff, 0xe0]), 'jpeg'],
  ['a GIF of 1987', bytes('GIF87a'), 'gif'],
  ['a GIF of no year', bytes('GIF88a'), 'text'],
  ['a WebP', bytes('RIFF', [1, 2, 3, 4], 'WEBPVP8 '), 'webp'],
  ['sound in the same wrapping', bytes('RIFF', [1, 2, 3, 4], 'WAVEfmt '), 'unknown'],
  ['AVIF', box('avif\0\0\0\0mif1'), 'avif'],
  ['AVIF that names itself late', box('mif1\0\0\0\0avif'), 'avif'],
  ['an MP4', box('isom\0\0\0\0mp42'), 'mp4'],
  ['a film of another kind', box('qt  \0\0\0\0qt  '), 'unknown'],
  ['a drawing that can hold scripts', bytes('<?xml version="1.0"?><svg onload="x">'), 'svg'],
  ['a page', bytes('\n<!DOCTYPE html><p>'), 'html'],
  ['an archive', bytes('PK', [3, 4]), 'zip'],
  ['a document', bytes('%PDF-1.7'), 'pdf'],
  ['words', bytes('name,amount\n'), 'text'],
  ['nothing', bytes(), 'unknown'],
  ['a picture that begins too late', bytes(' ', png), 'unknown'],
])('%s is found by its bytes', (_, file, found) => {
  expect(foundIn(file)).toBe(found);
  expect(foundWords[foundIn(file)]).toMatch(/\w/);
});

it('a PNG moves where it says so before its picture', () => {
  const [says, picture, other] = [chunk('acTL', 8), chunk('IDAT', 4), chunk('tEXt', 20)];
  const file = (...chunks: Uint8Array[]) => bytes(png, ...chunks.map((c) => [...c]));
  expect(isMovingPng(file(other, says, picture))).toBe(true);
  expect(isMovingPng(file(other, picture, says))).toBe(false);
  expect(isMovingPng(file())).toBe(false);
  // a length that leads behind the end ends the looking
  expect(isMovingPng(bytes(png, [255, 255, 255, 255], 'tEXt'))).toBe(false);
});
