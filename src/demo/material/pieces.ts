import type { CreativeFields } from '../../core/material/creative';
import type { CreativeKind } from '../../core/material/lists';
import type { Figure, Ground, Kept } from './drawings';

/** A banner of the demo: drawn, with the day it was made on. */
export interface DemoBanner {
  name: string;
  /** code of its product; empty for the whole programme */
  product: string;
  size: readonly [width: number, height: number];
  ground: Ground;
  figure: Figure;
  ink: keyof typeof inks;
  kept: Kept;
  made: string;
  subject?: string;
  until?: string;
  from?: string;
  off?: boolean;
  language?: string;
  alt: string;
}

export const inks = { copper: '#9A4A1F', verdigris: '#1F6F63', slate: '#3C5A78', ochre: '#7A5D0C' };
export const shopPage = 'https://shop.quernstone.example/';

type Row = readonly [
  name: string,
  product: string,
  size: string,
  drawn: `${Ground} ${Figure} ${keyof typeof inks} ${Kept}`,
  made: string,
  alt: string,
  more?: Partial<DemoBanner>,
];

const rows: readonly Row[] = [
  ['Box, blue', 'WHEEL-1', '300x250', 'slant wheel slate png', '2026-03-04', 'A wheel on a kitchen table'],
  ['Box, large', 'WHEEL-1', '336x280', 'rings wheel copper png', '2026-03-04', 'A wheel seen from above'],
  ['Spring, wide', 'WHEEL-1', '728x90', 'rings wheel copper png', '2026-03-04', 'Throw at home'],
  ['Tower', 'WHEEL-1', '160x600', 'waves wheel verdigris png', '2026-03-04', 'A wheel that fits'],
  ['Tower, wide', 'WHEEL-1', '300x600', 'waves pot verdigris jpeg', '2026-05-11', 'The first pot'],
  ['Phone strip', 'WHEEL-1', '320x50', 'slant none slate gif', '2026-03-04', 'A wheel that fits on a table'],
  [
    'Phone, two lines',
    'WHEEL-1',
    '320x100',
    'slant wheel slate png',
    '2026-06-01',
    'A wheel for small kitchens',
  ],
  ['Square, large', 'WHEEL-1', '1080x1080', 'weave wheel ochre png', '2026-04-20', 'Nine kilos of calm'],
  [
    'Shared picture',
    'WHEEL-1',
    '1200x628',
    'rings wheel verdigris heavy',
    '2026-09-07',
    'A wheel between cups',
  ],
  ['Turning wheel', 'WHEEL-1', '300x250', 'rings wheel copper moving', '2026-10-05', 'A wheel that turns'],
  ['Narrow tower', 'WHEEL-1', '120x600', 'slant none ochre gif', '2026-03-04', 'Lines'],
  [
    'Easter, shared picture',
    'WHEEL-1',
    '1200x628',
    'arches box verdigris webp',
    '2027-03-08',
    'Two kilos of clay beside a wheel',
    { subject: 'Easter', from: '2027-03-20', until: '2027-04-06' },
  ],
  [
    'Easter, box',
    'WHEEL-1',
    '300x250',
    'arches box verdigris png',
    '2027-03-08',
    'An egg of clay',
    { subject: 'Easter', from: '2027-03-20', until: '2027-04-06' },
  ],
  [
    'Winter, square',
    'WHEEL-1',
    '1080x1080',
    'slant box slate jpeg',
    '2026-11-16',
    'A wheel in a box with a ribbon',
    { subject: 'Winter', until: '2027-01-07' },
  ],
  [
    'Winter, wide',
    'WHEEL-1',
    '970x250',
    'slant box slate png',
    '2026-11-16',
    'Clay under the tree',
    { subject: 'Winter', until: '2027-01-07' },
  ],
  [
    'Roue, carré',
    'WHEEL-1',
    '300x250',
    'weave wheel copper png',
    '2026-07-06',
    'Un tour de potier sur la table',
    { language: 'fr' },
  ],
  ['Course, box', 'THROW-V', '300x250', 'rings pot copper png', '2026-03-04', 'A pot from above'],
  ['Course, tower', 'THROW-V', '160x600', 'arches pot verdigris png', '2026-03-04', 'Twenty lessons'],
  ['Course, wide', 'THROW-V', '728x90', 'waves pot slate png', '2026-03-04', 'Learn to throw'],
  ['Course, square', 'THROW-V', '1080x1080', 'rings pot ochre jpeg', '2026-08-17', 'Hands on clay'],
  ['Course, shared', 'THROW-V', '1200x628', 'waves pot verdigris png', '2026-08-17', 'A lesson'],
  ['Growing pot', 'THROW-V', '336x280', 'waves pot copper moving', '2026-10-05', 'A pot that grows'],
  ['Kiln, box', 'KILN-S', '300x250', 'weave kiln copper png', '2026-03-09', 'A kiln the size of a bucket'],
  ['Kiln, wide', 'KILN-S', '728x90', 'weave kiln copper png', '2026-03-09', 'Fire at home'],
  ['Kiln, phone', 'KILN-S', '320x100', 'slant kiln slate png', '2026-09-14', 'A small kiln', { off: true }],
  ['Tool roll, box', 'ROLL-1', '300x250', 'slant roll ochre png', '2026-03-09', 'Nine tools in a roll'],
  ['Tool roll, phone', 'ROLL-1', '320x50', 'waves none ochre png', '2026-03-09', 'Nine tools'],
  ['Apron, box', 'APRON-1', '300x250', 'arches apron slate png', '2026-03-09', 'A split apron'],
  ['Apron, square', 'APRON-1', '1080x1080', 'arches apron slate jpeg', '2026-05-04', 'An apron on a hook'],
  ['Glazes, box', 'GLAZE-M', '300x250', 'rings box verdigris png', '2026-03-16', 'Four glazes in a box'],
  ['Glazes, large box', 'GLAZE-M', '336x280', 'weave box slate png', '2026-03-16', 'The box of the month'],
  ['Glazes, banner', 'GLAZE-M', '970x250', 'waves box verdigris png', '2026-06-08', 'Glazes by post'],
  ['Glazes, tower', 'GLAZE-M', '300x600', 'rings box copper png', '2026-06-08', 'A new glaze every month'],
  ['Glazes, phone', 'GLAZE-M', '320x100', 'slant box verdigris png', '2026-06-08', 'Glazes by post'],
  ['Workshop, wide', '', '728x90', 'arches none copper png', '2026-03-04', 'Quernstone Clayworks'],
  ['Workshop, box', '', '300x250', 'weave pot copper png', '2026-03-04', 'Quernstone Clayworks'],
];

function bannerOf([name, product, size, drawn, made, alt, more]: Row): DemoBanner {
  const [width = 0, height = 0] = size.split('x').map(Number);
  const [ground, figure, ink, kept] = drawn.split(' ') as [Ground, Figure, keyof typeof inks, Kept];
  return { name, product, size: [width, height], ground, figure, ink, kept, made, alt, ...more };
}

export const demoBanners: readonly DemoBanner[] = rows.map(bannerOf);

/** A creative of words, markup or film. */
export interface DemoPiece {
  kind: Exclude<CreativeKind, 'banner'>;
  product: string;
  made: string;
  fields: Partial<CreativeFields> & { name: string };
  /** file of its film, in the folder of films */
  film?: string;
  /** poster of a film: the banner whose picture it is */
  poster?: string;
}

const text = (name: string, product: string, words: string, around = ''): DemoPiece => ({
  kind: 'text-link',
  product,
  made: '2026-03-05',
  fields: { name, words, around },
});

const letter = (
  name: string,
  product: string,
  made: string,
  { subjects, body }: { subjects: string[]; body: string },
): DemoPiece => ({
  kind: 'email',
  product,
  made,
  fields: { name, subjects, body },
});

const piece = (name: string, product: string, made: string, code: string): DemoPiece => ({
  kind: 'html',
  product,
  made,
  fields: { name, code },
});

export const demoPieces: readonly DemoPiece[] = [
  text(
    'Cupboard line',
    'WHEEL-1',
    'The wheel that lives in a cupboard',
    'I threw my first bowl at the kitchen table: {link}.',
  ),
  text('Price line', 'WHEEL-1', 'A table-top wheel for {price WHEEL-1}, tools and clay with it'),
  text('Quiet line', 'WHEEL-1', 'Quiet enough for a flat', 'My neighbours never heard it. {link}'),
  text('Twenty lessons', 'THROW-V', 'Twenty lessons, each shorter than a firing'),
  text('Muddy hands', 'THROW-V', 'A course to watch with muddy hands', 'Pause with an elbow: {link}'),
  text('Bucket kiln', 'KILN-S', 'A kiln the size of a bucket', 'It runs on an ordinary socket: {link}'),
  text('Nine tools', 'ROLL-1', 'Nine tools in a linen roll'),
  text('Box of the month', 'GLAZE-M', 'Four glazes a month, {price GLAZE-M} for the first box'),
  text('Apron line', 'APRON-1', 'An apron that sits down with you'),
  text('Free sums', 'CALC-0', 'A calculator that does the glaze sums'),
  {
    kind: 'text-link',
    product: 'THROW-V',
    made: '2026-12-01',
    fields: { name: 'Says more than it gives', words: '15 % off the throwing course with THANKS10' },
  },
  piece(
    'Card with a price',
    'WHEEL-1',
    '2026-04-13',
    '<div style="border:1px solid #9A4A1F;padding:14px;max-width:320px;font-family:Georgia,serif">\n  <h3 style="margin:0 0 6px">A wheel that fits</h3>\n  <p style="margin:0 0 10px">Nine kilos, one socket, twenty pots before breakfast.</p>\n  <a href="{link}" style="color:#9A4A1F">See it at Quernstone Clayworks</a>\n</div>',
  ),
  piece(
    'Three reasons',
    'THROW-V',
    '2026-05-18',
    '<ol style="font-family:Georgia,serif">\n  <li>Lessons of nine minutes</li>\n  <li>A film from above and one from the side</li>\n  <li>Questions answered within a day</li>\n</ol>\n<p><a href="{link}">Begin with the first lesson</a></p>',
  ),
  piece(
    'Comparison of kilns',
    'KILN-S',
    '2026-09-21',
    '<table style="border-collapse:collapse;font-family:Georgia,serif">\n  <tr><th style="text-align:left;padding:4px 12px 4px 0">Inside</th><td>22 × 22 × 23 cm</td></tr>\n  <tr><th style="text-align:left;padding:4px 12px 4px 0">Top heat</th><td>1,230 °C</td></tr>\n  <tr><th style="text-align:left;padding:4px 12px 4px 0">Socket</th><td>an ordinary one</td></tr>\n</table>\n<p><a href="{link}">The small kiln</a></p>',
  ),
  piece(
    'Signature',
    '',
    '2026-06-15',
    '<p style="font:13px Georgia,serif">I throw with a wheel of <a href="{link}">Quernstone Clayworks</a>. – {handle}</p>',
  ),
  letter('First pot, a letter', 'WHEEL-1', '2026-03-23', {
    subjects: ['My first pot', 'It stands, nearly straight', 'A wheel on the kitchen table'],
    body: 'Dear reader,\n\nmy wheel arrived in a box that I could lift, and by the evening a bowl stood on the table.\n\nWhat I would tell you before you buy one:\n\n- it needs **one** ordinary socket\n- the clay for twenty pots is in the box\n- it costs {price WHEEL-1}\n\nHere it is: [{product}]({link})\n\n{name}',
  }),
  letter('Winter evenings', 'THROW-V', '2026-11-09', {
    subjects: ['Long evenings, wet hands'],
    body: 'Dear reader,\n\nthe dark months are for learning. The {product} has twenty lessons; I did one an evening.\n\n[Begin here]({link})\n\n{name}',
  }),
  letter('A kiln at home', 'KILN-S', '2026-09-28', {
    subjects: ['Firing in the shed', 'What a kiln at home costs'],
    body: 'Dear reader,\n\nfor years I carried my pots across town to be fired. The {product} stands in the shed and costs {price KILN-S}.\n\n[All the figures]({link})\n\n{name}',
  }),
  letter('The box arrives', 'GLAZE-M', '2026-06-22', {
    subjects: ['Four glazes I had never tried'],
    body: 'Dear reader,\n\nthe box of this month had a green that breaks to rust on edges. [Get the next one]({link}).\n\n{name}',
  }),
  letter('A present for a potter', 'ROLL-1', '2026-11-23', {
    subjects: ['A present for somebody who throws'],
    body: 'Dear reader,\n\nnine tools in linen, and they last: [{product}]({link}).\n\n{name}',
  }),
  letter('Who makes my tools', '', '2026-08-03', {
    subjects: ['A workshop in the hills'],
    body: 'Dear reader,\n\nQuernstone Clayworks makes the tools that I use most. [Their shop]({link}) is worth a slow hour.\n\n{name}',
  }),
  {
    kind: 'video',
    product: 'WHEEL-1',
    made: '2026-10-12',
    fields: { name: 'The wheel, turning' },
    film: 'spinning.mp4',
    poster: 'Box, large',
  },
  {
    kind: 'video',
    product: 'THROW-V',
    made: '2026-10-12',
    fields: { name: 'A pot in four seconds' },
    film: 'first-pot.mp4',
    poster: 'Course, box',
  },
];

/** What is planned, and what was: each of a creative by its name. */
export const demoPlans: readonly {
  name: string;
  made: string;
  at: string;
  changes: Partial<CreativeFields>;
}[] = [
  {
    name: 'Box, blue',
    made: '2027-03-09',
    at: '2027-03-20',
    changes: { landing: `${shopPage}easter` },
  },
  { name: 'Box, blue', made: '2027-03-09', at: '2027-04-06', changes: { landing: '' } },
  { name: 'Kiln, phone', made: '2027-03-10', at: '2027-03-15', changes: { active: true } },
  {
    name: 'Spring, wide',
    made: '2026-03-10',
    at: '2026-04-01',
    changes: { alt: 'Throw at home, this spring' },
  },
  {
    name: 'Cupboard line',
    made: '2027-03-01',
    at: '2027-03-05',
    changes: { words: 'The wheel that lives in a cupboard' },
  },
];

/** What affiliates ask for; some of it was answered, by the creative of this name or in words. */
export const demoRequests: readonly {
  email: string;
  day: string;
  kind: CreativeKind;
  size: string;
  product: string;
  words: string;
  language?: string;
  answered?: { day: string; by: string; words: string };
}[] = [
  {
    email: 'post@kilndiaries.example',
    day: '2027-03-09',
    kind: 'banner',
    size: '160x600',
    product: 'KILN-S',
    words: 'A tall one for the column beside my firing log.',
  },
  {
    email: 'desk@ochrelane.example',
    day: '2027-03-11',
    kind: 'email',
    size: '',
    product: 'THROW-V',
    language: 'fr',
    words: 'Our pupils read French: a letter for the course, please.',
  },
  {
    email: 'mara@loamletters.example',
    day: '2026-06-25',
    kind: 'banner',
    size: '300x250',
    product: 'WHEEL-1',
    language: 'fr',
    words: 'One in French for our friends across the border.',
    answered: { day: '2026-07-06', by: 'Roue, carré', words: 'Here it is; tell us how it does.' },
  },
];
