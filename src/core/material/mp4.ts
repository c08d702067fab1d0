import { foundIn } from './found';

/** What a video file says of itself; null where it does not say. */
export interface VideoFacts {
  /** pixels as it is to be shown */
  width: number | null;
  height: number | null;
  /** seconds, rounded */
  seconds: number | null;
}

/** A box of ISO 14496-12: its name and where its content lies. */
interface Box {
  name: string;
  from: number;
  to: number;
}

/** A file that consists of more boxes than this is not looked through: nothing that a person made has so many at its top. */
const mostBoxes = 2_000;

class Unreadable extends Error {}

/** The boxes between two places, one after the other. @throws Unreadable where one is longer than what holds it */
function boxesIn(view: DataView, from: number, to: number): Box[] {
  const boxes: Box[] = [];
  for (let at = from; at + 8 <= to;) {
    if (boxes.length >= mostBoxes) throw new Unreadable('it has too many parts');
    let size = view.getUint32(at);
    let head = 8;
    if (size === 1) {
      if (at + 16 > to) throw new Unreadable('it is cut off');
      size = Number(view.getBigUint64(at + 8));
      head = 16;
    }
    if (size === 0) size = to - at;
    if (size < head || at + size > to) throw new Unreadable('it is cut off');
    const name = String.fromCharCode(...[4, 5, 6, 7].map((i) => view.getUint8(at + i)));
    boxes.push({ name, from: at + head, to: at + size });
    at += size;
  }
  return boxes;
}

/** Seconds by the head of the film (mvhd): its length in units of its own. */
function secondsIn(view: DataView, box: Box): number | null {
  const isLong = view.getUint8(box.from) === 1;
  if (box.to - box.from < (isLong ? 32 : 20)) return null;
  const unit = view.getUint32(box.from + (isLong ? 20 : 12));
  const length = isLong ? Number(view.getBigUint64(box.from + 24)) : view.getUint32(box.from + 16);
  return unit > 0 && Number.isSafeInteger(length) ? Math.round(length / unit) : null;
}

/** Width and height of a track (tkhd), which ends with both in 16.16 pixels; a track of sound has none. */
function sizeIn(view: DataView, box: Box): { width: number; height: number } | null {
  if (box.to - box.from < 84) return null;
  const width = view.getUint32(box.to - 8) / 65_536;
  const height = view.getUint32(box.to - 4) / 65_536;
  return width >= 1 && height >= 1 ? { width: Math.round(width), height: Math.round(height) } : null;
}

function factsIn(view: DataView, film: Box): VideoFacts {
  const parts = boxesIn(view, film.from, film.to);
  const head = parts.find((box) => box.name === 'mvhd');
  const size = parts
    .filter((box) => box.name === 'trak')
    .flatMap((track) => boxesIn(view, track.from, track.to))
    .filter((box) => box.name === 'tkhd')
    .map((box) => sizeIn(view, box))
    .find((found) => found !== null);
  return {
    width: size?.width ?? null,
    height: size?.height ?? null,
    seconds: head ? secondsIn(view, head) : null,
  };
}

/**
 * Reads an MP4 by its boxes (ISO 14496-12), never by its name. Only heads are looked at: what it costs does not grow with the film.
 * @returns what it says of itself, or why it is none
 */
export function readMp4(bytes: Uint8Array): { ok: true; facts: VideoFacts } | { ok: false; why: string } {
  if (foundIn(bytes) !== 'mp4') return { ok: false, why: 'it does not begin as an MP4 does' };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    const boxes = boxesIn(view, 0, bytes.length);
    const film = boxes.find((box) => box.name === 'moov');
    if (!film) return { ok: false, why: 'it has no list of its contents (moov)' };
    if (!boxes.some((box) => box.name === 'mdat')) return { ok: false, why: 'it holds no film (mdat)' };
    return { ok: true, facts: factsIn(view, film) };
  } catch (thrown) {
    if (thrown instanceof Unreadable || thrown instanceof RangeError)
      return { ok: false, why: thrown instanceof Unreadable ? thrown.message : 'it is cut off' };
    throw thrown;
  }
}
