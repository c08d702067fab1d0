import type { WorkingOut } from '../../contract/setup/terms';
import { useBegun } from '../kit/begun';
import { ById } from '../kit/by-id';
import { DottedItem } from '../kit/dotted';
import { Earning } from '../kit/earning';
import { Hatch } from '../kit/hatch';
import { Apart, Blank, Column, Headed, News, Offered, Pair, Row, Sheet, Split } from '../kit/layout';
import { Hint, Note, Said, Wrong } from '../kit/note';
import { OwnPolicy } from '../kit/own-policy';
import { Bar, Empty, Facts, Failed, Heading, Margin, Skeleton, Unread, UnreadRows } from '../kit/place';
import { PolicyChanges, PolicySections } from '../kit/policy';
import { RestoredNote } from '../kit/restored';
import { selectColumn } from '../kit/select-column';
import { Mark, State } from '../kit/state';
import { Table } from '../kit/table';
import { Code, Day, Moment, Money, Name, Share, Small, Strong, Sums, Title } from '../kit/text';
import { Working } from '../kit/working';
import { Held, type Piece } from './shown';

const euro = (amount: number) => ({ amount, currency: 'EUR' });
const rows = [
  { id: '1', name: 'Banding wheel', price: euro(12_900) },
  { id: '2', name: 'Returned kiln', price: euro(-89_000) },
];
const at = Date.parse('2027-03-12T14:05:00Z');

const working: WorkingOut = {
  credit: { who: 'Loam Letters', reason: 'the last visit in 45 days', considered: [] },
  lines: [
    {
      product: 'Banding wheel',
      locked: false,
      reason: null,
      rungs: [
        { rung: 'Card', rows: [{ text: '12 %', why: 'decides', outcome: 'wins' }] },
        { rung: 'Programme', rows: [{ text: '8 %', why: 'lower rung', outcome: 'loses' }] },
      ],
      sums: [
        { label: 'Commissionable', figure: '€129.00', weight: 'part' },
        { label: 'Commission', figure: '€15.48', weight: 'sum' },
      ],
    },
  ],
  exchange: null,
  total: euro(1548),
  changes: [{ what: 'refund', at, amount: euro(-1548) }],
  left: euro(0),
};

function List({ row, empty }: { row: typeof rows; empty?: boolean }) {
  return (
    <Held first={['1']}>
      {(chosen, set) => (
        <div className="flex h-[150px]">
          <Table
            label={empty ? 'No products' : 'Products'}
            rows={row}
            idOf={(r) => r.id}
            at="2"
            columns={[
              selectColumn({
                has: (id) => chosen.includes(id),
                toggle: (id) => set(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]),
              }),
              { head: 'Name', cell: (r) => r.name },
              { head: 'Price', figure: true, cell: (r) => <Money value={r.price} /> },
            ]}
            empty={<Empty title="No product yet">The first one is made with N.</Empty>}
          />
        </div>
      )}
    </Held>
  );
}

function Overtaken() {
  const edit = useBegun({ values: { name: 'Rib' }, version: 1 }, () => 'Name');
  return <p>begun from version {edit.begun.version}; what others changed stands above the fields</p>;
}

/** What is read: places, lists, notes, figures, workings. */
export const lists: Piece[] = [
  {
    file: 'place',
    states: [
      [
        'heading and facts',
        <div key="a">
          <Heading title="Products" acts={<State is="live" />}>
            All that are live
          </Heading>
          <Facts rows={[['Code', 'WHEEL-1']]} />
          <Bar tone="draft">Draft, 1 change</Bar>
        </div>,
      ],
      [
        'loading, and failed',
        <div key="b">
          <Skeleton lines={2} />
          <Failed fault={new Error()} retry={() => undefined} />
          <Unread what="What you owe" />
          <UnreadRows count={2} />
        </div>,
      ],
      [
        'margin',
        <Margin key="c" width="w-full">
          What belongs to the row
        </Margin>,
      ],
    ],
  },
  {
    file: 'table',
    states: [
      ['rows', <List key="a" row={rows} />],
      ['nothing', <List key="b" row={[]} empty />],
    ],
  },
  {
    file: 'by-id',
    states: [['an address that names no record of its kind', <ById key="a" kind="run" page={() => null} />]],
  },
  { file: 'select-column', states: [['one of two selected', <List key="a" row={rows} />]] },
  {
    file: 'state',
    states: [
      [
        'marks and words',
        <p key="a" className="flex flex-wrap gap-3">
          {['waiting', 'sent', 'paid', 'declined', 'ended'].map((s) => (
            <State key={s} is={s} />
          ))}
        </p>,
      ],
      [
        'the mark alone',
        <p key="b">
          <Mark look="refused" /> 1 payment returned
        </p>,
      ],
    ],
  },
  {
    file: 'note',
    states: [
      ['waits', <Note key="a">It begins on 5 Apr 2027.</Note>],
      [
        'refused',
        <Note key="b" tone="refused">
          The end is not after the start.
        </Note>,
      ],
      ['hint', <Hint key="c">Days, holds and reports are cut in it</Hint>],
      [
        'sentences below',
        <div key="d">
          <Said>Links lead on and earn nothing.</Said>
          <Said gap={2} faint>
            Nothing yet.
          </Said>
          <Wrong>It ends before it begins.</Wrong>
        </div>,
      ],
    ],
  },
  { file: 'restored', states: [['what was not saved', <RestoredNote key="a" discard={() => undefined} />]] },
  { file: 'begun', states: [['a form and what it began from', <Overtaken key="a" />]] },
  {
    file: 'hatch',
    states: [
      [
        'the ground of a chart',
        <svg key="a" width={120} height={40} aria-hidden>
          <defs>
            <Hatch id="hatch-shown" strength={0.6} />
          </defs>
          <rect width={120} height={40} fill="url(#hatch-shown)" stroke="var(--color-ink)" />
        </svg>,
      ],
    ],
  },
  {
    file: 'earning',
    states: [
      ['once', <Earning key="a" of={{ reward: '12 %', renewals: '' }} />],
      [
        'with renewals',
        <Earning key="b" of={{ reward: '50 %', renewals: 'payments 2–6: 10 %; then nothing' }} />,
      ],
    ],
  },
  {
    file: 'dotted',
    states: [
      [
        'lines',
        <ul key="a">
          <DottedItem>Makers</DottedItem>
          <DottedItem apart>
            <span>Media</span>
            <span>12</span>
          </DottedItem>
        </ul>,
      ],
    ],
  },
  {
    file: 'text',
    states: [
      [
        'amounts and shares',
        <p key="a" className="flex gap-3">
          <Money value={euro(12_900)} />
          <Money value={euro(-50)} strong />
          <Money value={null} />
          <Share ppm={31_000} />
          <Share ppm={null} />
        </p>,
      ],
      [
        'days and codes',
        <p key="b" className="flex gap-3">
          <Day at={at} />
          <Moment at={at} />
          <Day at={null} />
          <Code>WHEEL-1</Code>
        </p>,
      ],
      [
        'words',
        <p key="w">
          <Title>Table-top wheel kit</Title>
          <Name>Loam Letters</Name> earns <Strong>15 %</Strong> <Small>since March</Small>
          <Small below>set here</Small>
        </p>,
      ],
      [
        'sums',
        <Sums
          key="c"
          rows={[
            { label: 'Held', figure: '€10.00' },
            { label: 'of it late', figure: '€2.00', weight: 'aside' },
            { label: 'Owed', figure: '€10.00', weight: 'sum' },
          ]}
        />,
      ],
    ],
  },
  {
    file: 'layout',
    states: [
      [
        'apart, headed, in a row',
        <div key="a">
          <Apart>
            <span>Version 2</span>
            <span>in force</span>
          </Apart>
          <Headed>
            <h3>Loam Letters</h3>
            <a href="#page">open</a>
          </Headed>
          <Row>
            <Code>after-1</Code>
            <span>Bats, ten</span>
          </Row>
        </div>,
      ],
      [
        'two by two, offered',
        <div key="b">
          <Pair>
            <span>Price</span>
            <span>€199.00</span>
          </Pair>
          <Offered>
            <span>blog</span>
            <span>podcast</span>
          </Offered>
        </div>,
      ],
      [
        'parts of a place',
        <Split key="c">
          <Column aria-label="List">
            <Blank>Nothing yet.</Blank>
          </Column>
          <Sheet aria-label="What is read">
            <News>A new glaze</News>
          </Sheet>
        </Split>,
      ],
    ],
  },
  {
    file: 'policy',
    states: [
      [
        'sections',
        <PolicySections
          key="a"
          sections={[
            {
              key: 's',
              title: 'Search',
              practices: [
                {
                  key: 'cash-return',
                  name: 'Cash return to buyers',
                  answer: 'ask-first',
                  says: 'Tell us to whom.',
                  own: false,
                  otherwise: [{ who: 'blog', answer: 'not-here', says: '' }],
                },
              ],
              facts: [{ text: 'Our name', yes: false }],
              lines: ['One line'],
              text: 'In words.',
            },
          ]}
        />,
      ],
      [
        'what differs',
        <PolicyChanges
          key="b"
          changes={{
            practices: [{ key: 'resale', name: 'Resale sites', was: 'welcome', is: 'not-here', parts: [] }],
            sections: [
              {
                key: 's',
                title: 'Search changed',
                parts: [
                  { text: 'Our ', mark: 'same' },
                  { text: 'brand', mark: 'removed' },
                  { text: 'name', mark: 'added' },
                ],
              },
            ],
          }}
        />,
      ],
    ],
  },
  {
    file: 'own-policy',
    states: [
      [
        'not accepted yet',
        <OwnPolicy
          key="a"
          busy={false}
          onAccept={() => undefined}
          policy={{
            id: 'pol_gallery',
            number: 2,
            holdsFrom: 1_800_000_000_000,
            sections: [],
            changes: { practices: [], sections: [] },
            acceptedAt: null,
            inNotice: true,
            atEnd: 'pause',
            due: 1_800_000_000_000,
          }}
        />,
      ],
    ],
  },
  { file: 'working', states: [['of a sale', <Working key="a" working={working} />]] },
];
