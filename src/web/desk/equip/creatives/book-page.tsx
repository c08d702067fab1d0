import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { createCreative, editCreative, type CreativeRow } from '../../../../contract/equip/creatives';
import type { CreativeKind } from '../../../../core/material/lists';
import type { Id } from '../../../../core/text/id';
import { EndMark } from '../../../kit/end-mark';
import { useKeys } from '../../../kit/keys';
import { Column, scrolling, Split } from '../../../kit/layout';
import { cursorKeys, searchKey, selectKeys } from '../../../kit/list-keys';
import { useCursor } from '../../../kit/lists';
import { Empty, Failed, Skeleton, UnreadRows } from '../../../kit/place';
import { useSelection } from '../../../kit/selection';
import { Small } from '../../../kit/text';
import { useMay } from '../../roles';
import { ManyDialog, type ManyAct } from './acts/many';
import { OneBar } from './acts/one-bar';
import { PlanDialog } from './acts/plan';
import { sectionTitle, type Book, type Section } from './book';
import { SheetMargin } from './margin';
import { Piece } from './piece';

export interface ProductChoice {
  id: Id<'product'>;
  code: string;
  name: string;
}

interface Props {
  heading: ReactNode;
  book: Book;
  narrowed: boolean;
  onKind: (kind: CreativeKind) => void;
  onFiles: ((files: File[]) => void) | null;
}

type Acting = ManyAct | 'plan';

/** The place in the book, what is selected, and what is being done to it; with the keys for all that. */
function useBook(rows: CreativeRow[]) {
  const cursor = useCursor(rows, (r) => r.id);
  const chosen = useSelection(rows, (r) => r.id);
  const may = useMay();
  const navigate = useNavigate();
  const [acting, setActing] = useState<Acting | null>(null);
  const at = cursor.row ?? rows[0] ?? null;
  const open = (row: CreativeRow) => void navigate(`/creatives/${row.id}`);
  const whom = chosen.size ? rows.filter((r) => chosen.has(r.id)) : at ? [at] : [];
  const begin = (what: Acting) => {
    if (whom.length && may(editCreative)) setActing(what);
  };
  const keys = useKeys([
    ...cursorKeys(cursor, 'piece', open),
    { key: 'e', what: 'change it', act: () => at && open(at) },
    { key: 'p', what: 'plan a change', act: () => begin('plan') },
    { key: 'o', what: 'switch on or off', act: () => begin(whom.every((r) => r.active) ? 'off' : 'on') },
    ...selectKeys(cursor.at ?? at?.id ?? null, chosen),
    searchKey,
  ]);
  return { cursor, chosen, at, open, whom, begin, keys, acting, end: () => setActing(null) };
}

type Acts = ReturnType<typeof useBook>;

/** The book with its keys, what is selected in it, and the margin of the piece that is looked at. */
export function BookPage({ heading, book, narrowed, onKind, onFiles }: Props) {
  const rows = book.sections.flatMap((section) => section.rows);
  const acts = useBook(rows);
  const may = useMay();
  const { at, chosen, whom } = acts;
  return (
    <>
      <Split {...(onFiles ? dropping(onFiles) : {})}>
        <Column aria-label="Creatives">
          {heading}
          <div className={`${scrolling} px-5 pb-6`} tabIndex={0} aria-label="Sample book">
            {book.failed ? (
              <Failed fault={book.failed} retry={book.again} />
            ) : (
              <>
                <UnreadRows count={book.unreadable} />
                <Hanging book={book} acts={acts} narrowed={narrowed} onKind={onKind} />
              </>
            )}
          </div>
        </Column>
        {at && <SheetMargin id={at.id} row={at} />}
      </Split>
      {may(editCreative) && rows.length > 0 && (
        <OneBar {...{ whom, rows, at }} selected={chosen.size} begin={acts.begin} open={acts.open} />
      )}
      <Doing acts={acts} />
      {acts.keys}
    </>
  );
}

/** The dialog of what is being done. */
function Doing({ acts: { acting, at, whom, chosen, end } }: { acts: Acts }) {
  if (acting === null) return null;
  if (acting === 'plan') return at && <PlanDialog id={at.id} name={at.name} onClose={end} />;
  return (
    <ManyDialog
      what={acting}
      whom={whom}
      onClose={end}
      onDone={() => {
        end();
        chosen.clear();
      }}
    />
  );
}

function Hanging({
  book,
  acts,
  narrowed,
  onKind,
}: {
  book: Book;
  acts: Acts;
  narrowed: boolean;
  onKind: (kind: CreativeKind) => void;
}) {
  const { at, chosen, cursor, open } = acts;
  const isBare = book.sections.every((section) => section.rows.length === 0);
  return (
    <>
      {book.sections.map((section) => (
        <HungSection
          key={section.kind}
          section={section}
          at={at?.id ?? null}
          chosen={chosen.ids}
          onLook={(row) => cursor.setAt(row.id)}
          onOpen={open}
          onToggle={(row) => chosen.toggle(row.id)}
          onAll={() => onKind(section.kind)}
        />
      ))}
      {book.loading && <Skeleton lines={4} />}
      {!book.loading && isBare && <Nothing narrowed={narrowed} />}
      {book.onEnd && <EndMark onSeen={book.onEnd} />}
    </>
  );
}

/** Files that are dropped on the book, or pasted into it, become banners and videos. */
const dropping = (onFiles: (files: File[]) => void) => ({
  onDragOver: (e: React.DragEvent) => e.preventDefault(),
  onDrop: (e: React.DragEvent) => {
    e.preventDefault();
    if (e.dataTransfer.files.length) onFiles([...e.dataTransfer.files]);
  },
  onPaste: (e: React.ClipboardEvent) => {
    if (e.clipboardData.files.length) onFiles([...e.clipboardData.files]);
  },
});

interface SectionProps {
  section: Section;
  at: string | null;
  chosen: ReadonlySet<string>;
  onLook: (row: CreativeRow) => void;
  onOpen: (row: CreativeRow) => void;
  onToggle: (row: CreativeRow) => void;
  onAll: () => void;
}

/** The pieces of one kind on their base lines. */
function HungSection({ section, at, chosen, onLook, onOpen, onToggle, onAll }: SectionProps) {
  const { kind, rows, hasMore } = section;
  if (rows.length === 0) return null;
  return (
    <section aria-label={sectionTitle(kind)} className="mt-2 mb-5">
      <div className="flex items-baseline gap-3 border-b border-ink pb-[6px]">
        <h2>{sectionTitle(kind)}</h2>
        <Small>
          {hasMore ? (
            <button type="button" className="link" onClick={onAll}>
              the first {rows.length}, show all
            </button>
          ) : (
            `${rows.length}${kind === 'banner' ? ', drawn small in their proportions' : ''}`
          )}
        </Small>
        <span className="ml-auto text-[12px] text-ink3">orders from 100 clicks, 90 days</span>
      </div>
      <ul className="mt-3 flex flex-wrap items-end gap-x-5 gap-y-4">
        {rows.map((row) => (
          <Piece
            key={row.id}
            row={row}
            at={row.id === at}
            chosen={chosen.has(row.id)}
            onLook={() => onLook(row)}
            onOpen={() => onOpen(row)}
            onToggle={() => onToggle(row)}
          />
        ))}
      </ul>
    </section>
  );
}

function Nothing({ narrowed }: { narrowed: boolean }) {
  const may = useMay();
  return (
    <div className="pt-4">
      {narrowed ? (
        <Empty title="No creative fits">Widen the filter above.</Empty>
      ) : (
        <Empty title="No creative yet">
          Banners, text links, pieces of HTML, videos and e-mails that affiliates promote with.{' '}
          {may(createCreative) && 'Drop your banners here, all at once, or make one with N.'}
        </Empty>
      )}
    </div>
  );
}
