import type { FileOut } from '../../contract/equip/material';
import { creativeKinds } from '../../core/material/lists';
import { EndMark } from '../kit/end-mark';
import { Hung, HungSheet } from '../kit/hung';
import { Period } from '../kit/period';
import { Sandbox } from '../kit/sandbox';
import { ShownPiece, type PieceShown } from '../kit/shown-piece';
import { Held, type Piece } from './shown';

/** A drawing without a server: lines on paper. */
const drawn = (width: number, height: number) =>
  `data:image/svg+xml,${encodeURIComponent(`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="#FBFAF6"/><path d="M0 ${height} L${width} 0" stroke="#9A4A1F"/></svg>`)}`;

const file = (width: number, height: number): FileOut => ({
  hash: '',
  url: drawn(width, height),
  type: 'image/png',
  format: 'PNG',
  bytes: 3_000,
  width,
  height,
  moving: false,
  seconds: null,
  asWebp: null,
});

const piece: PieceShown = {
  kind: 'banner',
  name: 'Box, blue',
  file: file(300, 250),
  poster: null,
  alt: 'A wheel',
  words: 'The wheel that lives in a cupboard',
  around: 'I throw at home now: {link}.',
  code: '<p>A <a href="{link}">wheel</a></p>',
  address: '',
  letter: '<p>Dear reader</p>',
};

export const material: readonly Piece[] = [
  {
    file: 'hung',
    states: [
      ['a box', <Hung key="b" file={file(300, 250)} alt="" />],
      ['a wide one', <Hung key="w" file={file(970, 250)} alt="" />],
      ['a tower', <Hung key="t" file={file(160, 600)} alt="" />],
      ['a video', <Hung key="v" file={file(480, 270)} alt="" isVideo seconds={64} />],
      ['a video without a poster', <Hung key="n" file={null} alt="" isVideo />],
      ['a line', <HungSheet key="l" kind="text-link" text="The wheel that lives in a cupboard" />],
      ['a letter', <HungSheet key="e" kind="email" text="Dear reader, my wheel arrived in a box." />],
      ['a piece of HTML', <HungSheet key="h" kind="html" text="Inside 22 cm" />],
    ],
  },
  {
    file: 'shown-piece',
    states: creativeKinds.map(
      (kind) => [kind, <ShownPiece key={kind} piece={{ ...piece, kind }} />] as const,
    ),
  },
  {
    file: 'sandbox',
    states: [
      ['markup that cannot reach out', <Sandbox key="s" title="A card" code="<h3>A card</h3>" height={90} />],
    ],
  },
  { file: 'end-mark', states: [['where a list goes on', <EndMark key="e" onSeen={() => undefined} />]] },
  {
    file: 'period',
    states: [
      [
        'any days',
        <Held key="a" first={{ from: '', to: '' }}>
          {({ from, to }, set) => <Period from={from} to={to} onChange={(a, b) => set({ from: a, to: b })} />}
        </Held>,
      ],
      [
        'chosen days',
        <Held key="c" first={{ from: '2027-03-01', to: '2027-03-05' }}>
          {({ from, to }, set) => (
            <Period from={from} to={to} any={false} onChange={(a, b) => set({ from: a, to: b })} />
          )}
        </Held>,
      ],
    ],
  },
];
