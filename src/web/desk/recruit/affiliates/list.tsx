import { useQuery } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { affiliateStates } from '../../../../contract/recruit/affiliates';
import { doBulk, exportAffiliates, listAffiliates, listSegments } from '../../../../contract/recruit/roster';
import { listSets } from '../../../../contract/setup/sets';
import { partnerKindList } from '../../../../core/recruiting/kinds';
import {
  rosterColumns,
  rosterOnly,
  usualColumns,
  type RosterColumn,
  type RosterFilter,
} from '../../../../core/recruiting/roster';
import { addressOf, call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Bar, Empty, Failed, Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { useSelection } from '../../../kit/selection';
import { State } from '../../../kit/state';
import { Table, type Column } from '../../../kit/table';
import { Code, Day, Money } from '../../../kit/text';
import { useMay } from '../../roles';
import { BulkDialog } from './bulk';
import { ImportDialog } from './import';
import { MessageDialog } from './message';
import { SegmentsBar } from './segments';

export type RosterRow = ReplyOf<typeof listAffiliates>['rows'][number];
const filterKeys = [
  'state',
  'q',
  'group',
  'tag',
  'card',
  'kind',
  'country',
  'timing',
  'lookedAfter',
  'only',
] as const;

/** The filter that the address holds. */
export function filterIn(params: URLSearchParams): RosterFilter {
  return Object.fromEntries(filterKeys.flatMap((k) => (params.get(k) ? [[k, params.get(k)!]] : [])));
}

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
    cell: (r) => (r.timing === 'at-sale' ? 'at sale' : 'after hold'),
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
  owed: { head: rosterColumns.owed, cell: (r) => <Money of={r.owed} />, figure: true, width: '96px' },
  paid: { head: rosterColumns.paid, cell: (r) => <Money of={r.paid} />, figure: true, width: '96px' },
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

export type Acting = {
  what: 'group' | 'card' | 'tag-on' | 'tag-off' | 'pause' | 'resume' | 'looked-after' | 'kind' | 'message';
};

/** The roster: a filter as a sentence, the columns that are wanted, acts on many, lists in and out. */
export default function Affiliates() {
  const [params, setParams] = useSearchParams();
  const may = useMay();
  const navigate = useNavigate();
  const filter = filterIn(params);
  const sort = params.get('sort') === 'newest' ? ('newest' as const) : ('name' as const);
  const columns =
    (params
      .get('columns')
      ?.split(',')
      .filter((c) => c in rosterColumns) as RosterColumn[] | undefined) ?? usualColumns;
  const list = useList(listAffiliates, { ...filter, ...(sort === 'newest' ? { sort } : {}) });
  const first = list.first as ReplyOf<typeof listAffiliates> | undefined;
  const sets = useQuery({ queryKey: ['sets'], queryFn: () => call(listSets) });
  const segments = useQuery({ queryKey: ['segments'], queryFn: () => call(listSegments) });
  const cursor = useCursor(list.rows, (r) => r.id);
  const chosen = useSelection(list.rows, (r) => r.id);
  const [everybody, setEverybody] = useState(false);
  const [acting, setActing] = useState<Acting | null>(null);
  const [reading, setReading] = useState(false);
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next);
    chosen.clear();
    setEverybody(false);
  };
  const open = (id: string) => void navigate(`/affiliates/${id}`);
  const total = first?.total ?? list.rows.length;
  const picked = everybody
    ? { filter }
    : chosen.size
      ? { ids: [...chosen.ids] }
      : cursor.row
        ? { ids: [cursor.row.id] }
        : null;
  const count = everybody ? total : chosen.size || (cursor.row ? 1 : 0);
  const begin = (what: Acting['what']) => {
    if (picked && may(doBulk)) setActing({ what });
  };
  const keys = useKeys([
    { key: 'j', what: 'next affiliate', act: () => cursor.move(1) },
    { key: 'k', what: 'affiliate before', act: () => cursor.move(-1) },
    {
      key: 'Enter',
      what: 'open',
      act: () => {
        if (cursor.row) open(cursor.row.id);
      },
    },
    {
      key: 'x',
      what: 'select',
      act: () => {
        setEverybody(false);
        if (cursor.row) chosen.toggle(cursor.row.id);
      },
    },
    {
      key: 'X',
      what: 'select from the last one selected to here',
      act: () => {
        if (cursor.row) chosen.range(cursor.row.id);
      },
    },
    {
      key: 'e',
      what: 'everybody who fits the sentence',
      act: () => {
        chosen.clear();
        setEverybody(true);
      },
    },
    { key: 'g', what: 'put into a group', act: () => begin('group') },
    { key: 't', what: 'tag', act: () => begin('tag-on') },
    { key: 'c', what: 'put on a rate card', act: () => begin('card') },
    { key: 'm', what: 'write to them', act: () => begin('message') },
    { key: 'p', what: 'pause', act: () => begin('pause') },
    {
      key: '/',
      what: 'search',
      act: () => document.querySelector<HTMLInputElement>('input[type=search]')?.focus(),
    },
    {
      key: 'Escape',
      what: 'drop the selection',
      act: () => {
        chosen.clear();
        setEverybody(false);
      },
    },
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  const of = (kind: string) =>
    (sets.data?.rows ?? []).filter((s) => s.of === kind).map((s) => [s.id, s.name] as const);
  const narrowed = Object.keys(filter).length > 0;
  const widths: Column<RosterRow>[] = [
    {
      head: <span className="sr-only">Selected</span>,
      width: '26px',
      cell: (r) => (
        <input
          type="checkbox"
          aria-label={`Select ${r.name}`}
          checked={everybody || chosen.has(r.id)}
          onClick={(e) => e.stopPropagation()}
          onChange={() => {
            setEverybody(false);
            chosen.toggle(r.id);
          }}
          className="accent-copper"
        />
      ),
    },
    {
      head: 'Name',
      cell: (r) => (
        <>
          <b className="private font-semibold">{r.name}</b>
          {!r.promotes && <span className="text-ink3"> co-owner</span>}
          {r.mailFault && (
            <span className="text-madder" title={r.mailFault}>
              {' '}
              mail bounces
            </span>
          )}
        </>
      ),
    },
    ...columns.map((c) => columnOf[c]),
  ];
  return (
    <>
      <Heading
        title="Affiliates"
        acts={
          <>
            <SearchField label="Name, site or address" />
            <a
              className="link self-center"
              href={addressOf(exportAffiliates, {}, { ...filter, sort, columns: columns.join(',') })}
              download
            >
              CSV
            </a>
            {may(doBulk) && (
              <button type="button" className="link" onClick={() => setReading(true)}>
                Read in…
              </button>
            )}
            <Columns
              of={columns}
              onChange={(c) => set('columns', c.join(',') === usualColumns.join(',') ? '' : c.join(','))}
            />
          </>
        }
      >
        <Choice
          label="State"
          value={filter.state ?? ''}
          options={[['', 'Everyone'], ...affiliateStates.map((s) => [s, `Those who are ${s}`] as const)]}
          onChange={(v) => set('state', v)}
        />{' '}
        <Choice
          label="Group"
          value={filter.group ?? ''}
          options={[
            ['', 'in any group or none'],
            ['none', 'in no group'],
            ...of('group').map(([id, n]) => [id, `in ${n}`] as const),
          ]}
          onChange={(v) => set('group', v)}
        />
        ,{' '}
        <Choice
          label="Tag"
          value={filter.tag ?? ''}
          options={[['', 'tagged or not'], ...of('tag').map(([id, n]) => [id, `tagged ${n}`] as const)]}
          onChange={(v) => set('tag', v)}
        />
        ,{' '}
        <Choice
          label="Card"
          value={filter.card ?? ''}
          options={[['', 'on any card'], ...of('card').map(([id, n]) => [id, `on ${n}`] as const)]}
          onChange={(v) => set('card', v)}
        />
        ,{' '}
        <Choice
          label="Kind"
          value={filter.kind ?? ''}
          options={[
            ['', 'of any kind'],
            ['none', 'of no kind yet'],
            ...partnerKindList.map((k) => [k, `of the kind ${k}`] as const),
          ]}
          onChange={(v) => set('kind', v)}
        />
        ,{' '}
        <Choice
          label="Looked after by"
          value={filter.lookedAfter ?? ''}
          options={[
            ['', 'looked after by anybody'],
            ['nobody', 'looked after by nobody'],
            ...(first?.staff ?? []).map((s) => [s.id, `looked after by ${s.name}`] as const),
          ]}
          onChange={(v) => set('lookedAfter', v)}
        />
        ,{' '}
        <Choice
          label="Only those"
          value={filter.only ?? ''}
          options={[['', 'whatever else'], ...Object.entries(rosterOnly)]}
          onChange={(v) => set('only', v)}
        />
        {filter.q && (
          <>
            , with “<span className="private">{filter.q}</span>” in name, site or address
          </>
        )}
        ,{' '}
        <Choice
          label="Sort"
          value={sort}
          options={[
            ['name', 'by name'],
            ['newest', 'newest first'],
          ]}
          onChange={(v) => set('sort', v === 'name' ? '' : v)}
        />
        : <b className="font-semibold text-ink">{total.toLocaleString('en-GB')}</b>
        <SegmentsBar
          segments={segments.data?.rows ?? []}
          filter={filter}
          columns={columns}
          onPick={(s) => {
            const next = new URLSearchParams(s.filter as Record<string, string>);
            if (s.columns.length && s.columns.join(',') !== usualColumns.join(','))
              next.set('columns', s.columns.join(','));
            setParams(next);
            chosen.clear();
          }}
        />
      </Heading>
      <Table
        label="Affiliates"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={(r) => open(r.id)}
        onEnd={list.onEnd}
        loading={list.loading}
        columns={widths}
        empty={
          <Empty title={narrowed ? 'Nobody fits' : 'No affiliate yet'}>
            {narrowed ? (
              'Take a condition out of the sentence, or try another part of the name or site.'
            ) : (
              <>
                People who apply on the join page appear here; a list can be read in;{' '}
                <Link className="link underline" to="/prospects">
                  prospects
                </Link>{' '}
                can be invited.
              </>
            )}
          </Empty>
        }
      />
      {may(doBulk) && (
        <Bar>
          {(
            [
              ['group', 'Group', 'G'],
              ['tag-on', 'Tag', 'T'],
              ['card', 'Card', 'C'],
              ['message', 'Write', 'M'],
            ] as const
          ).map(([what, name, key]) => (
            <Button key={what} keyName={key} disabled={!picked} onClick={() => begin(what)}>
              {name}
            </Button>
          ))}
          <DropdownMenu.Root>
            <DropdownMenu.Trigger asChild>
              <Button disabled={!picked}>More…</Button>
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content
                side="top"
                align="start"
                className="z-50 min-w-44 rounded-sm border border-rule bg-sheet py-1 shadow-float"
              >
                {(
                  [
                    ['tag-off', 'Take a tag off'],
                    ['pause', 'Pause'],
                    ['resume', 'Resume'],
                    ['looked-after', 'Looked after by'],
                    ['kind', 'Kind of partner'],
                  ] as const
                ).map(([what, name]) => (
                  <DropdownMenu.Item
                    key={what}
                    className="cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-copper-wash"
                    onSelect={() => begin(what)}
                  >
                    {name}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
          <span className="ml-auto text-ink2">
            {everybody
              ? `all ${total.toLocaleString('en-GB')} who fit · `
              : chosen.size > 0
                ? `${chosen.size} selected · `
                : ''}
            <kbd>X</kbd> select · <kbd>E</kbd> everybody · <kbd>?</kbd> all keys
          </span>
        </Bar>
      )}
      {acting && picked && acting.what !== 'message' && (
        <BulkDialog
          what={acting.what}
          whom={picked}
          count={count}
          sets={sets.data?.rows ?? []}
          staff={first?.staff ?? []}
          onClose={() => setActing(null)}
          onDone={() => {
            setActing(null);
            chosen.clear();
            setEverybody(false);
          }}
        />
      )}
      {acting?.what === 'message' && picked && (
        <MessageDialog whom={picked} onClose={() => setActing(null)} />
      )}
      {reading && <ImportDialog onClose={() => setReading(false)} />}
      {keys}
    </>
  );
}

function Columns({ of, onChange }: { of: RosterColumn[]; onChange: (columns: RosterColumn[]) => void }) {
  const all = Object.keys(rosterColumns) as RosterColumn[];
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="link self-center">Columns</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-44 rounded-sm border border-rule bg-sheet py-1 shadow-float"
        >
          {all.map((c) => (
            <DropdownMenu.CheckboxItem
              key={c}
              checked={of.includes(c)}
              onSelect={(e) => e.preventDefault()}
              onCheckedChange={(on) => onChange(on ? [...of, c] : of.filter((x) => x !== c))}
              className="flex cursor-pointer gap-2 px-3 py-[3px] outline-none data-[highlighted]:bg-copper-wash"
            >
              <span className="w-3">{of.includes(c) ? '✓' : ''}</span>
              {rosterColumns[c]}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
