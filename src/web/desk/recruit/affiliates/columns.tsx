import { timingWords } from '../../../../core/ledger/timing';
import { rosterColumns, type RosterColumn } from '../../../../core/recruiting/roster';
import { State } from '../../../kit/state';
import { type Column } from '../../../kit/table';
import { Code, Day, Money, Name } from '../../../kit/text';
import type { RosterRow } from './filter';

const columnOf: Record<RosterColumn, Column<RosterRow>> = {
  handle: {
    head: rosterColumns.handle,
    cell: (r) => (
      <span className="private block max-w-[150px] truncate">
        <Code>{r.handle}</Code>
      </span>
    ),
    width: '160px',
  },
  country: { head: rosterColumns.country, cell: (r) => r.country, width: '64px' },
  state: { head: rosterColumns.state, cell: (r) => <State is={r.state} />, width: '92px' },
  timing: {
    head: rosterColumns.timing,
    cell: (r) => timingWords[r.timing],
    width: '84px',
  },
  clicks: {
    head: rosterColumns.clicks,
    cell: (r) => r.clicks90.toLocaleString('en-GB'),
    figure: true,
    width: '84px',
  },
  orders: {
    head: rosterColumns.orders,
    cell: (r) => r.orders.toLocaleString('en-GB'),
    figure: true,
    width: '64px',
  },
  owed: { head: rosterColumns.owed, cell: (r) => <Money value={r.owed} />, figure: true, width: '96px' },
  paid: { head: rosterColumns.paid, cell: (r) => <Money value={r.paid} />, figure: true, width: '96px' },
  since: { head: rosterColumns.since, cell: (r) => <Day at={r.joinedAt} />, figure: true, width: '106px' },
  group: { head: rosterColumns.group, cell: (r) => r.group?.name ?? '—', width: '120px' },
  card: { head: rosterColumns.card, cell: (r) => r.card?.name ?? '—', width: '100px' },
  kind: { head: rosterColumns.kind, cell: (r) => r.kind || '—', width: '100px' },
  lookedAfter: { head: rosterColumns.lookedAfter, cell: (r) => r.lookedAfter ?? '—', width: '130px' },
  tags: {
    head: rosterColumns.tags,
    cell: (r) => (
      <span className="block max-w-[190px] truncate">{r.tags.map((t) => t.name).join(', ') || '—'}</span>
    ),
    width: '190px',
  },
  email: {
    head: rosterColumns.email,
    cell: (r) => <span className="private block max-w-[200px] truncate">{r.email}</span>,
    width: '200px',
  },
  sites: {
    head: rosterColumns.sites,
    cell: (r) => <span className="private block max-w-[200px] truncate">{r.sites.join(', ')}</span>,
    width: '200px',
  },
};

/** The name of an affiliate, and what is wrong with its mail. */
export const nameColumn: Column<RosterRow> = {
  head: 'Name',
  cell: (r) => (
    <>
      <Name>{r.name}</Name>
      {!r.promotes && <span className="text-ink3"> co-owner</span>}
      {r.mailFault && (
        <span className="text-madder" title={r.mailFault}>
          {' '}
          mail bounces
        </span>
      )}
    </>
  ),
};

/** The columns of the roster, in the order that was asked for. */
export const rosterTable = (columns: readonly RosterColumn[]): Column<RosterRow>[] => [
  nameColumn,
  ...columns.map((c) => columnOf[c]),
];
