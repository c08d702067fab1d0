import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import {
  draftRate,
  draftSwitch,
  readRateBook,
  type RateBookOut,
  type SetChange,
} from '../../../../contract/setup/rate-book';
import { addDays, dayOf } from '../../../../core/calendar/zone';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Choice } from '../../../kit/choice';
import { DayChoice } from '../../../kit/day-choice';
import { useKeys } from '../../../kit/keys';
import { Pick } from '../../../kit/pick';
import { Failed, Heading, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { useMay } from '../../roles';
import { findAffiliates } from '../../shared/find-affiliates';
import { columnKey, rowKey, type At } from './cells';
import { DraftBar, useDraftOfTerms, type DraftAct } from './draft';
import { useEstimate } from './estimate';
import { Grid, rowName } from './grid';
import { CellMargin } from './margin';
import { RateForm, readTyped, typedChange, type PlaceOfRate } from './rate-form';

const events = [
  ['sale', 'a first sale'],
  ['renewal', 'a renewal'],
  ['lead', 'a lead'],
  ['click', 'a click'],
] as const;

/** The book without the tags that no rate is for: they say nothing but what everybody earns. */
function withoutIdleTags(book: RateBookOut): { book: RateBookOut; hidden: number } {
  const shown = book.columns.map(
    (c, i) =>
      c.of !== 'tag' ||
      book.rows.some(
        (r) => r.cells[i]!.from === 'here' || r.cells[i]!.from === 'column' || r.cells[i]!.was !== null,
      ),
  );
  const kept = <T,>(list: T[]) => list.filter((_, i) => shown[i]);
  return {
    book: {
      ...book,
      columns: kept(book.columns),
      rows: book.rows.map((r) => ({ ...r, cells: kept(r.cells) })),
    },
    hidden: shown.filter((x) => !x).length,
  };
}

export default function RateBook() {
  const { zone, now, day, base } = useProgramme();
  const may = useMay();
  const [params, setParams] = useSearchParams();
  const event = (params.get('event') ?? 'sale') as SetChange['event'];
  const payment = Number(params.get('payment') ?? 2) || 2;
  const asOf = params.get('day') ?? '';
  const affiliates = params.get('affiliates') ?? '';
  const set = (name: string, value: string) =>
    setParams(
      (p) => {
        const next = new URLSearchParams(p);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: true },
    );
  const book = useQuery({
    queryKey: ['rate-book', event, payment, asOf, affiliates],
    placeholderData: keepPreviousData,
    queryFn: () =>
      call(readRateBook, {
        query: {
          event,
          ...(event === 'renewal' ? { payment } : {}),
          ...(asOf ? { day: asOf } : {}),
          ...(affiliates ? { affiliates } : {}),
        },
      }),
  });
  const draft = useDraftOfTerms();
  const [at, setAt] = useState<At | null>(null);
  const [asked, setAsked] = useState<DraftAct>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [form, setForm] = useState<SetChange['mode'] | null>(null);
  const put = useAct(draftRate);
  const take = useAct(draftSwitch);
  const mayEdit = may(draftRate);
  const today = dayOf(now, zone);
  const [everyTag, setEveryTag] = useState(false);
  const cut = useMemo(() => (book.data ? withoutIdleTags(book.data) : null), [book.data]);
  const q = (params.get('q') ?? '').trim().toLowerCase();
  const whole = everyTag ? book.data : cut?.book;
  // kinds and everything stay: they decide where nothing narrower is set
  const found = useMemo(
    () =>
      !whole || !q
        ? whole
        : {
            ...whole,
            rows: whole.rows.filter(
              (r) =>
                (r.of !== 'product' && r.of !== 'step') ||
                `${r.name} ${r.code ?? ''}`.toLowerCase().includes(q),
            ),
          },
    [whole, q],
  );
  const data = found;
  const row = data?.rows.find((r) => rowKey(r) === at?.row) ?? data?.rows[0] ?? null;
  const column = data?.columns.find((c) => columnKey(c) === at?.column) ?? data?.columns[0] ?? null;
  const place: PlaceOfRate | null =
    row && column
      ? {
          column: { of: column.of, ...(column.id ? { id: column.id } : {}) },
          row: { of: row.of, ...(row.id ? { id: row.id } : {}) },
          event,
          who: column.name,
          what: rowName(row),
        }
      : null;
  const cell = row && column && data ? row.cells[data.columns.indexOf(column)]! : null;
  const reading = typed === null || !place ? null : readTyped(typed, base);
  const estimate = useEstimate(
    draft?.version ?? null,
    reading && place ? typedChange(place, 'base', { reward: reading, cap: '', payments: null, base }) : null,
  );
  const move = (rows: number, columns: number) => {
    if (!data || !row || !column) return;
    const next = data.rows[Math.min(data.rows.length - 1, Math.max(0, data.rows.indexOf(row) + rows))]!;
    const beside =
      data.columns[Math.min(data.columns.length - 1, Math.max(0, data.columns.indexOf(column) + columns))]!;
    setAt({ row: rowKey(next), column: columnKey(beside) });
  };
  const commit = () => {
    if (typed === null || !place) return;
    if (typed.trim() === '' || typed.trim() === '-') {
      if (cell?.from === 'here' && cell.rate) take.mutate({ body: { op: 'end', id: cell.rate } });
      setTyped(null);
    } else if (reading) {
      put.mutate({ body: { column: place.column, row: place.row, event, mode: 'base', reward: reading } });
      setTyped(null);
    }
  };
  const keys = useKeys([
    { key: 'ArrowDown', what: 'a row down; J as well', act: () => move(1, 0) },
    { key: 'j', what: 'a row down', act: () => move(1, 0) },
    { key: 'ArrowUp', what: 'a row up; K as well', act: () => move(-1, 0) },
    { key: 'k', what: 'a row up', act: () => move(-1, 0) },
    { key: 'ArrowRight', what: 'a column on; L as well', act: () => move(0, 1) },
    { key: 'l', what: 'a column on', act: () => move(0, 1) },
    { key: 'ArrowLeft', what: 'a column back; H as well', act: () => move(0, -1) },
    { key: 'h', what: 'a column back', act: () => move(0, -1) },
    ...(mayEdit
      ? [
          ...'0123456789€'
            .split('')
            .map((key) => ({ key, what: '', act: () => setTyped(key) }))
            .map((k, i) => (i === 0 ? { ...k, what: 'type a rate: 12.5, or €6 for a flat amount' } : k)),
          { key: 'Enter', what: 'change this rate in the cell', act: () => setTyped('') },
          { key: 'e', what: 'all that a rate can say: bands, cap, dates', act: () => setForm('base') },
          { key: 'u', what: 'plan an uplift here', act: () => setForm('up-to') },
          ...(draft
            ? [
                { key: 'r', what: 'rehearse the draft', act: () => setAsked('rehearse') },
                { key: 's', what: 'save the draft', act: () => setAsked('save') },
              ]
            : []),
        ]
      : []),
  ]);
  if (book.isPending) return <Skeleton lines={12} />;
  if (book.error || !data) return <Failed fault={book.error} retry={() => void book.refetch()} />;
  return (
    <>
      <div className="flex min-h-0 flex-1">
        <section className="flex min-w-0 flex-1 flex-col" aria-label="Rate book">
          <Heading
            title="Rate book"
            acts={
              <>
                {(whole?.rows.length ?? 0) > 14 && <SearchField label="Product" />}
                <Link className="link self-center" to="/rates/sets">
                  Cards, groups, tags
                </Link>
                <span className="self-center text-ink3">·</span>
                <Link className="link self-center" to="/rates/timeline">
                  Timeline
                </Link>
              </>
            }
          >
            What anyone earns on{' '}
            <Choice
              label="Event"
              value={event}
              options={events}
              onChange={(v) => set('event', v === 'sale' ? '' : v)}
            />
            {event === 'renewal' && (
              <>
                , payment{' '}
                <input
                  aria-label="Payment"
                  type="number"
                  min={2}
                  max={999}
                  value={payment}
                  onChange={(e) => set('payment', e.target.value)}
                  className="w-14 border-b border-dotted border-copper bg-transparent text-copper"
                />
              </>
            )}
            , as of{' '}
            <DayChoice
              label="As of the day"
              value={asOf || today}
              onChange={(d) => set('day', d === today ? '' : d)}
              jumps={[
                ['a month ago', addDays(today, -30)],
                ['today', today],
                ['in a month', addDays(today, 30)],
              ]}
            />
            , beside{' '}
            <Pick
              label="Add an affiliate"
              find={findAffiliates}
              onPick={(p) =>
                set(
                  'affiliates',
                  [...affiliates.split(',').filter((x) => x && x !== p.id), p.id].slice(-6).join(','),
                )
              }
            >
              {affiliates ? 'one more affiliate' : 'an affiliate'}
            </Pick>
            {affiliates && (
              <>
                {' '}
                <button type="button" className="link" onClick={() => set('affiliates', '')}>
                  none
                </button>
              </>
            )}
          </Heading>
          <Grid
            book={data}
            at={row && column ? { row: rowKey(row), column: columnKey(column) } : null}
            onAt={(next) => {
              setAt(next);
              setTyped(null);
            }}
            typed={typed}
            readable={typed === null || typed.trim() === '' || typed === '-' || reading !== null}
            onTyped={setTyped}
            onCommit={commit}
            mayEdit={mayEdit}
            onEdit={() => mayEdit && setTyped('')}
          />
          {cut !== null && cut.hidden > 0 && (
            <p className="px-5 pb-3 text-ink2">
              <button type="button" className="link" onClick={() => setEveryTag(!everyTag)}>
                {everyTag
                  ? 'Hide tags without rates'
                  : `Show ${cut.hidden} more ${cut.hidden === 1 ? 'tag' : 'tags'}, without rates`}
              </button>
            </p>
          )}
          {data.today ? null : <p className="px-5 pb-3 text-ink2">The book as of {day(data.at)}, 00:00.</p>}
        </section>
        {place && cell && row && column && (
          <CellMargin
            key={`${rowKey(row)} ${columnKey(column)} ${event} ${data.at}`}
            place={place}
            cell={cell}
            row={row}
            column={column}
            payment={payment}
            at={data.at}
            today={data.today}
            draft={draft}
            onForm={setForm}
          />
        )}
      </div>
      {draft && <DraftBar draft={draft} estimate={estimate} open={asked} setOpen={setAsked} />}
      {form && place && <RateForm place={place} draft={draft} mode={form} onClose={() => setForm(null)} />}
      {keys}
    </>
  );
}
