import type { Shape } from './lists';

/** A banner's width and height in pixels of the page. */
export interface Size {
  width: number;
  height: number;
}

interface UsualSize extends Size {
  shape: Shape;
}

/** The sizes that places for banners usually have: the trade's open list. */
export const usualSizes: readonly UsualSize[] = [
  { width: 300, height: 250, shape: 'box' },
  { width: 336, height: 280, shape: 'box' },
  { width: 728, height: 90, shape: 'wide' },
  { width: 970, height: 250, shape: 'wide' },
  { width: 160, height: 600, shape: 'tower' },
  { width: 300, height: 600, shape: 'tower' },
  { width: 320, height: 50, shape: 'phone' },
  { width: 320, height: 100, shape: 'phone' },
  { width: 1200, height: 628, shape: 'shared' },
  { width: 1080, height: 1080, shape: 'shared' },
];

/** “300×250”. */
export const sizeName = ({ width, height }: Size): string => `${width}×${height}`;

/** A size as it is typed in an address: “300x250”, “300×250”; null for anything else. */
export function readSize(text: string): Size | null {
  const [, width, height] = /^\s*(\d{1,5})\s*[x×*]\s*(\d{1,5})\s*$/i.exec(text) ?? [];
  return width && height && Number(width) > 0 && Number(height) > 0
    ? { width: Number(width), height: Number(height) }
    : null;
}

const isUsual = (size: Size) => usualSizes.some((u) => sizeName(u) === sizeName(size));

/**
 * The usual size that a file of this size is shown at: itself, or half of a file that was drawn twice as dense; the file's own
 * size where neither is usual.
 */
export function shownSize(file: Size): Size {
  const half = { width: file.width / 2, height: file.height / 2 };
  return !isUsual(file) && isUsual(half) ? half : file;
}

/** The shapes that most pages have a place for. */
export const pageShapes = ['box', 'wide', 'tower', 'phone'] as const satisfies readonly Shape[];

/** The size that stands for a shape: one that there is, else the one that most places have. */
export function sizeOfShape<T extends Size & { count: number }>(
  counted: readonly T[],
  shape: Shape,
): T | undefined {
  const names = usualSizes.filter((size) => size.shape === shape).map(sizeName);
  const own = counted.filter((size) => names.includes(sizeName(size)));
  return own.find((size) => size.count > 0) ?? own[0];
}
