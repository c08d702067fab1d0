import sharp from 'sharp';

/** How the ground of a drawing is engraved. */
export type Ground = 'rings' | 'waves' | 'slant' | 'arches' | 'weave';
/** What stands on it. */
export type Figure = 'wheel' | 'pot' | 'kiln' | 'box' | 'apron' | 'roll' | 'none';

export interface Drawing {
  width: number;
  height: number;
  ground: Ground;
  figure: Figure;
  ink: string;
  paper: string;
}

const line = (d: string, ink: string, width: number) =>
  `<path d="${d}" fill="none" stroke="${ink}" stroke-width="${width}"/>`;

const steps = (from: number, to: number, by: number): number[] =>
  Array.from({ length: Math.max(0, Math.ceil((to - from) / by)) }, (_, i) => from + i * by);

type Engraving = (width: number, height: number, gap: number, turn: number) => string[];

const wave = (y: number, width: number, turn: number) =>
  `M0 ${y} ${steps(0, width + 40, 40)
    .map((x) => `Q${x + 10} ${y - 9 - turn} ${x + 20} ${y} T${x + 40} ${y}`)
    .join(' ')}`;

/** Lines of each ground, as paths. @param turn moves them a little: the pictures of a moving drawing */
const engravings: Record<Ground, Engraving> = {
  rings: (width, height, gap, turn) =>
    steps(gap + turn, Math.hypot(width, height), gap).map(
      (r) => `M${width / 2 - r} ${height * 0.62} a${r} ${r} 0 1 0 ${2 * r} 0 a${r} ${r} 0 1 0 ${-2 * r} 0`,
    ),
  waves: (width, height, gap, turn) => steps(0, height + gap, gap).map((y) => wave(y, width, turn)),
  slant: (width, height, gap, turn) =>
    steps(-height + turn, width, gap).map((x) => `M${x} ${height} L${x + height} 0`),
  arches: (width, height, gap, turn) =>
    steps(gap + turn, Math.max(width, height) * 1.3, gap).map(
      (r) => `M${-r} ${height} a${r} ${r} 0 0 1 ${2 * r} 0`,
    ),
  weave: (width, height, gap) => [
    ...steps(0, width, gap * 2).map((x) => `M${x} 0 V${height}`),
    ...steps(0, height, gap * 2).map((y) => `M0 ${y} H${width}`),
  ],
};

/** Figures in a square of 100 by 100. */
const figures: Record<Figure, string> = {
  none: '',
  pot: 'M34 20 H66 L62 30 C84 40 86 74 62 88 H38 C14 74 16 40 38 30 Z',
  wheel:
    'M14 50 C14 46 86 46 86 50 V56 C86 60 14 60 14 56 Z M36 46 C28 34 34 24 40 22 H60 C66 24 72 34 64 46 Z M46 60 H54 V74 H78 V84 H22 V74 H46 Z',
  kiln: 'M22 24 H78 V86 H22 Z M32 36 H68 V66 H32 Z',
  box: 'M20 38 L50 24 L80 38 V76 L50 90 L20 76 Z M20 38 L50 52 L80 38 M50 52 V90',
  apron: 'M36 16 H64 L68 40 C76 56 78 74 78 88 H52 V56 H48 V88 H22 C22 74 24 56 32 40 Z',
  roll: 'M18 30 H82 V70 H18 Z M30 30 V70 M42 30 V70 M54 30 V70 M66 30 V70',
};

/** A drawing as SVG: a ground of fine lines, and on a bare patch the figure with its own hatching. */
function svgOf({ width, height, ground, figure, ink, paper }: Drawing, turn = 0): string {
  const gap = Math.max(5, Math.round(Math.min(width, height) / 22));
  const lines = engravings[ground](width, height, gap, turn).map((d) => line(d, ink, 1.2));
  const side = Math.min(width, height) * 0.86;
  const [x, y] = [(width - side) / 2, (height - side) / 2];
  const shape = figures[figure];
  const drawn = shape
    ? `<g transform="translate(${x} ${y}) scale(${side / 100})"><circle cx="50" cy="54" r="47" fill="${paper}"/><path d="${shape}" fill="${paper}" stroke="${ink}" stroke-width="2.4"/><g clip-path="url(#f)">${steps(-100 + turn, 110, 5).map((n) => line(`M${n} 100 L${n + 100} 0`, ink, 0.9))}</g></g>`
    : '';
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><defs><clipPath id="f"><path d="${shape}"/></clipPath></defs><rect width="${width}" height="${height}" fill="${paper}"/>${lines.join('')}${drawn}<rect x="1" y="1" width="${width - 2}" height="${height - 2}" fill="none" stroke="${ink}" stroke-width="2"/></svg>`;
}

const still = (drawing: Drawing, turn = 0) => sharp(Buffer.from(svgOf(drawing, turn)));

/** How a drawing is kept. */
export type Kept = 'png' | 'jpeg' | 'webp' | 'gif' | 'moving' | 'heavy';

const pictures = 6;

/** One that moves: its lines go round. */
async function moving(drawing: Drawing): Promise<Buffer> {
  const frames = await Promise.all(
    Array.from({ length: pictures }, (_, i) => still(drawing, i).png().toBuffer()),
  );
  return sharp(frames, { join: { animated: true } })
    .gif({ delay: frames.map(() => 160), loop: 0, colours: 8 })
    .toBuffer();
}

/** One as a camera would give it: grain makes it heavy. The grain is drawn by numbers of its own, so that it is always the same. */
async function heavy(drawing: Drawing): Promise<Buffer> {
  const { data, info } = await still(drawing).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  let state = 1312;
  for (let i = 0; i < data.length; i += 1) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    data[i] = Math.min(255, Math.max(0, data[i]! + ((state >>> 16) % 13) - 6));
  }
  const { width, height, channels } = info;
  return sharp(data, { raw: { width, height, channels } }).png({ compressionLevel: 2 }).toBuffer();
}

/** The bytes of a drawing. */
export function bytesOf(drawing: Drawing, kept: Kept): Promise<Buffer> {
  switch (kept) {
    case 'png':
      return still(drawing).png({ palette: true, colours: 16 }).toBuffer();
    case 'jpeg':
      return still(drawing).jpeg({ quality: 82 }).toBuffer();
    case 'webp':
      return still(drawing).webp({ quality: 84 }).toBuffer();
    case 'gif':
      return still(drawing).gif({ colours: 8 }).toBuffer();
    case 'moving':
      return moving(drawing);
    case 'heavy':
      return heavy(drawing);
  }
}
