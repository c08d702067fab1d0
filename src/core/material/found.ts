/** What a file turns out to be by its first bytes, whatever its name says. */
export type Found =
  'png' | 'jpeg' | 'gif' | 'webp' | 'avif' | 'mp4' | 'svg' | 'html' | 'zip' | 'pdf' | 'text' | 'unknown';

/** What was found, in words: “is …”. */
export const foundWords: Record<Found, string> = {
  png: 'a PNG picture',
  jpeg: 'a JPEG picture',
  gif: 'a GIF picture',
  webp: 'a WebP picture',
  avif: 'an AVIF picture',
  mp4: 'an MP4 video',
  svg: 'an SVG drawing, which can hold scripts',
  html: 'a page in HTML',
  zip: 'a ZIP archive',
  pdf: 'a PDF document',
  text: 'text',
  unknown: 'nothing that is known here',
};

const letters = (bytes: Uint8Array, from: number, length: number): string =>
  String.fromCharCode(...bytes.subarray(from, from + length));

const startsWith = (bytes: Uint8Array, ...values: number[]): boolean =>
  values.every((value, i) => bytes[i] === value);

/** What a picture says in its first bytes: PNG (RFC 2083), JPEG (ISO 10918), GIF 87a and 89a, WebP (RIFF). */
function pictureIn(bytes: Uint8Array): Found | null {
  if (startsWith(bytes, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (startsWith(bytes, 0xff, 0xd8, 0xff)) return 'jpeg';
  if (/^GIF8[79]a$/.test(letters(bytes, 0, 6))) return 'gif';
  if (letters(bytes, 0, 4) === 'RIFF' && letters(bytes, 8, 4) === 'WEBP') return 'webp';
  return null;
}

/** A file of boxes (ISO 14496-12) by its brands: AVIF is one, MP4 another. */
function boxedIn(bytes: Uint8Array): Found | null {
  if (letters(bytes, 4, 4) !== 'ftyp') return null;
  const length = Math.min(256, ((bytes[2] ?? 0) << 8) | (bytes[3] ?? 0));
  const brands = letters(bytes, 8, Math.max(4, length - 8));
  if (/avi[fs]/.test(brands)) return 'avif';
  return /isom|iso[2-9]|mp4[12]|avc1|M4V |dash|mmp4/.test(brands) ? 'mp4' : 'unknown';
}

function textIn(bytes: Uint8Array): Found {
  const start = new TextDecoder().decode(bytes.subarray(0, 2048));
  if (/<svg[\s>]/i.test(start)) return 'svg';
  if (/<(!doctype\s+html|html|head|body|script|iframe|div|p|a|table)[\s>]/i.test(start)) return 'html';
  return bytes.subarray(0, 512).every((b) => b >= 0x20 || b === 9 || b === 10 || b === 13)
    ? 'text'
    : 'unknown';
}

/** What a file is by its first bytes. */
export function foundIn(bytes: Uint8Array): Found {
  if (bytes.length === 0) return 'unknown';
  const known = pictureIn(bytes) ?? boxedIn(bytes);
  if (known) return known;
  if (startsWith(bytes, 0x50, 0x4b)) return 'zip';
  if (letters(bytes, 0, 5) === '%PDF-') return 'pdf';
  return textIn(bytes);
}

/** Whether a PNG moves: it then says how often (chunk acTL, before the picture’s own data). W3C PNG, third edition. */
export function isMovingPng(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 8; at + 8 <= bytes.length; at += 12 + view.getUint32(at)) {
    const name = letters(bytes, at + 4, 4);
    if (name === 'acTL') return true;
    if (name === 'IDAT') return false;
  }
  return false;
}
