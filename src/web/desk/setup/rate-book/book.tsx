import { useState } from 'react';
import { Link } from 'react-router';
import {
  draftRate,
  draftSwitch,
  type DraftOut,
  type RateBookOut,
  type SetChange,
} from '../../../../contract/setup/rate-book';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { useKeys, type Key } from '../../../kit/keys';
import { Column, Split } from '../../../kit/layout';
import { Failed, Heading, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { useMay } from '../../roles';
import { useBook, useBookAsked, type BookAsked } from './asked';
import { columnKey, rowKey, type At } from './cells';
import { DraftBar, useDraftOfTerms, type DraftAct } from './draft';
import { useEstimate } from './estimate';
import { Grid, rowName } from './grid';
import { CellMargin } from './margin';
import { RateForm } from './rate-form';
import { readTyped, typedChange, type PlaceOfRate } from './rate-typed';
import { BookSentence } from './sentence';

/** The rate book: what anyone earns on anything, and the draft of what is to change. */
export default function RateBook() {
  const asked = useBookAsked();
  const { book, shown, long, tags } = useBook(asked);
  if (book.isPending) return <Skeleton lines={12} />;
  if (book.error || !shown) return <Failed fault={book.error} retry={() => void book.refetch()} />;
  return <Book book={shown} asked={asked} long={long} tags={tags} />;
}

interface BookProps {
  book: RateBookOut;
  asked: BookAsked;
  long: boolean;
  tags: ReturnType<typeof useBook>['tags'];
}

const near = <T,>(list: T[], at: T, by: number): T =>
  list[Math.min(list.length - 1, Math.max(0, list.indexOf(at) + by))]!;

/** The cell that is chosen, the first one where none is; null in a book without rows or columns. */
function useCell(book: RateBookOut, event: SetChange['event']) {
  const [at, setAt] = useState<At | null>(null);
  const row = book.rows.find((r) => rowKey(r) === at?.row) ?? book.rows[0];
  const column = book.columns.find((c) => columnKey(c) === at?.column) ?? book.columns[0];
  if (!row || !column) return { chosen: null, setAt, move: () => undefined };
  const place: PlaceOfRate = {
    column: { of: column.of, ...(column.id ? { id: column.id } : {}) },
    row: { of: row.of, ...(row.id ? { id: row.id } : {}) },
    event,
    who: column.name,
    what: rowName(row),
  };
  return {
    chosen: {
      at: { row: rowKey(row), column: columnKey(column) },
      row,
      column,
      place,
      cell: row.cells[book.columns.indexOf(column)]!,
    },
    setAt,
    move: (rows: number, columns: number) =>
      setAt({
        row: rowKey(near(book.rows, row, rows)),
        column: columnKey(near(book.columns, column, columns)),
      }),
  };
}

type Chosen = ReturnType<typeof useCell>['chosen'];

/** A rate that is typed straight into the chosen cell. */
function useTyping(chosen: Chosen) {
  const { base } = useProgramme();
  const [typed, setTyped] = useState<string | null>(null);
  const put = useAct(draftRate);
  const take = useAct(draftSwitch);
  const reading = typed === null || !chosen ? null : readTyped(typed, base);
  const empty = typed !== null && ['', '-'].includes(typed.trim());
  const commit = () => {
    if (!chosen) return;
    const { cell, place } = chosen;
    if (empty) {
      if (cell.from === 'here' && cell.rate) take.mutate({ body: { op: 'end', id: cell.rate } });
      setTyped(null);
    } else if (reading) {
      const { column, row, event } = place;
      put.mutate({ body: { column, row, event, mode: 'base', reward: reading } });
      setTyped(null);
    }
  };
  return {
    typed,
    setTyped,
    readable: typed === null || empty || reading !== null,
    change:
      reading && chosen
        ? typedChange(chosen.place, { mode: 'base', reward: reading, payments: null }, base)
        : null,
    commit,
  };
}

function moveKeys(move: (rows: number, columns: number) => void): Key[] {
  return [
    { key: 'ArrowDown', what: 'a row down; J as well', act: () => move(1, 0) },
    { key: 'j', what: 'a row down', act: () => move(1, 0) },
    { key: 'ArrowUp', what: 'a row up; K as well', act: () => move(-1, 0) },
    { key: 'k', what: 'a row up', act: () => move(-1, 0) },
    { key: 'ArrowRight', what: 'a column on; L as well', act: () => move(0, 1) },
    { key: 'l', what: 'a column on', act: () => move(0, 1) },
    { key: 'ArrowLeft', what: 'a column back; H as well', act: () => move(0, -1) },
    { key: 'h', what: 'a column back', act: () => move(0, -1) },
  ];
}

interface Editing {
  type: (text: string) => void;
  form: (mode: SetChange['mode']) => void;
  ask: (act: DraftAct) => void;
}

function editKeys({ type, form, ask }: Editing, draft: DraftOut | null): Key[] {
  const digits = '0123456789€'.split('').map((key, i) => ({
    key,
    what: i === 0 ? 'type a rate: 12.5, or €6 for a flat amount' : '',
    act: () => type(key),
  }));
  const ofDraft: Key[] = [
    { key: 'r', what: 'rehearse the draft', act: () => ask('rehearse') },
    { key: 's', what: 'save the draft', act: () => ask('save') },
  ];
  return [
    ...digits,
    { key: 'Enter', what: 'change this rate in the cell', act: () => type('') },
    { key: 'e', what: 'all that a rate can say: bands, cap, dates', act: () => form('base') },
    { key: 'u', what: 'plan an uplift here', act: () => form('up-to') },
    ...(draft ? ofDraft : []),
  ];
}

function Book({ book, asked, long, tags }: BookProps) {
  const { day } = useProgramme();
  const mayEdit = useMay()(draftRate);
  const draft = useDraftOfTerms();
  const { chosen, setAt, move } = useCell(book, asked.event);
  const typing = useTyping(chosen);
  const estimate = useEstimate(draft?.version ?? null, typing.change);
  const [act, ask] = useState<DraftAct>(null);
  const [form, setForm] = useState<SetChange['mode'] | null>(null);
  const keys = useKeys([
    ...moveKeys(move),
    ...(mayEdit ? editKeys({ type: typing.setTyped, form: setForm, ask }, draft) : []),
  ]);
  return (
    <>
      <Split>
        <Column aria-label="Rate book">
          <Heading title="Rate book" acts={<BookActs long={long} />}>
            <BookSentence asked={asked} />
          </Heading>
          <Grid
            book={book}
            at={chosen?.at ?? null}
            onAt={(next) => {
              setAt(next);
              typing.setTyped(null);
            }}
            typed={typing.typed}
            readable={typing.readable}
            onTyped={typing.setTyped}
            onCommit={typing.commit}
            mayEdit={mayEdit}
            onEdit={() => mayEdit && typing.setTyped('')}
          />
          <IdleTags {...tags} />
          {!book.today && <p className="px-5 pb-3 text-ink2">The book as of {day(book.at)}, 00:00.</p>}
        </Column>
        {chosen && (
          <CellMargin
            key={`${chosen.at.row} ${chosen.at.column} ${asked.event} ${book.at}`}
            place={chosen.place}
            cell={chosen.cell}
            row={chosen.row}
            column={chosen.column}
            payment={asked.payment}
            at={book.at}
            today={book.today}
            draft={draft}
            onForm={setForm}
          />
        )}
      </Split>
      {draft && <DraftBar draft={draft} estimate={estimate} open={act} setOpen={ask} />}
      {form && chosen && (
        <RateForm place={chosen.place} draft={draft} mode={form} onClose={() => setForm(null)} />
      )}
      {keys}
    </>
  );
}

function BookActs({ long }: { long: boolean }) {
  return (
    <>
      {long && <SearchField label="Product" />}
      <Link className="link-level" to="/rates/sets">
        Cards, groups, tags
      </Link>
      <span className="self-center text-ink3">·</span>
      <Link className="link-level" to="/rates/timeline">
        Timeline
      </Link>
    </>
  );
}

/** Tags that no rate is for, shown when they are wanted. */
function IdleTags({ hidden, every, toggle }: BookProps['tags']) {
  if (hidden === 0) return null;
  return (
    <p className="px-5 pb-3 text-ink2">
      <button type="button" className="link" onClick={toggle}>
        {every ? 'Hide tags without rates' : `Show ${counted(hidden, 'more tag')}, without rates`}
      </button>
    </p>
  );
}
