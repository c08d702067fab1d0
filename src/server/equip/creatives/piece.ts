import { Parser } from 'htmlparser2';
import type { PieceFacts } from '../../../core/material/piece';

/** Attributes by which an element loads something. */
const loading = new Set(['src', 'srcset', 'poster', 'data', 'background']);
const sending = new Set(['action', 'formaction']);

/** What is relative would be on the page of whoever puts it there: no host of its own. */
const nowhere = 'https://relative.invalid/';

/** The host of an address in markup; null where it names none, or holds {link}. */
function hostIn(address: string, base: string): string | null {
  const text = address.trim();
  if (text === '' || text.includes('{link}')) return null;
  try {
    const url = new URL(text, new URL(base, nowhere));
    return url.host === 'relative.invalid' || url.host === '' ? null : url.host;
  } catch {
    return null;
  }
}

const addressesIn = (name: string, value: string): string[] =>
  name === 'srcset' ? value.split(',').map((part) => part.trim().split(/\s+/)[0]!) : [value];

/** Addresses that a style names: url(…), @import. */
const inStyle = (text: string): string[] =>
  [...text.matchAll(/url\(\s*['"]?([^'")]+)|@import\s+['"]([^'"]+)/gi)].map((m) => m[1] ?? m[2] ?? '');

type Note = (into: Set<string>, address: string) => void;

interface Seen {
  scripts: number;
  handlers: number;
  frames: number;
  foreign: Set<string>;
  forms: Set<string>;
}

const frames = new Set(['iframe', 'frame', 'object', 'embed']);
const runs = (name: string, value: string) => name.startsWith('on') || /^\s*javascript:/i.test(value);

/** What one attribute of an element loads, sends to or runs. */
function noteAttribute(seen: Seen, note: Note, tag: string, [name, value]: [string, string]): void {
  if (runs(name, value)) seen.handlers += 1;
  else if (loading.has(name)) addressesIn(name, value).forEach((address) => note(seen.foreign, address));
  else if (sending.has(name)) note(seen.forms, value);
  else if (name === 'style') inStyle(value).forEach((address) => note(seen.foreign, address));
  else if (tag === 'link' && name === 'href') note(seen.foreign, value);
}

/** Looks through a piece of HTML as a browser would read it. @param own hosts that are the merchant’s or ours */
export function readPiece(code: string, own: ReadonlySet<string>): PieceFacts {
  const seen: Seen = { scripts: 0, handlers: 0, frames: 0, foreign: new Set(), forms: new Set() };
  let inside = '';
  let base = nowhere;
  const note: Note = (into, address) => {
    const host = hostIn(address, base);
    if (host !== null && !own.has(host)) into.add(host.slice(0, 100));
  };
  const parser = new Parser({
    onopentag(tag, attributes) {
      inside = tag;
      if (tag === 'script') seen.scripts += 1;
      if (frames.has(tag)) seen.frames += 1;
      if (tag === 'base') base = attributes.href ?? base;
      for (const attribute of Object.entries(attributes)) noteAttribute(seen, note, tag, attribute);
    },
    ontext(text) {
      if (inside === 'style') inStyle(text).forEach((address) => note(seen.foreign, address));
    },
    onclosetag() {
      inside = '';
    },
  });
  parser.end(code);
  const { foreign, forms, ...counts } = seen;
  return {
    links: code.split('{link}').length - 1,
    ...counts,
    foreignHosts: [...foreign].sort(),
    formHosts: [...forms].sort(),
  };
}
