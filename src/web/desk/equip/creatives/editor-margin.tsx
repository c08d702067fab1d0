import { useQuery } from '@tanstack/react-query';
import { readCreativeResults } from '../../../../contract/equip/results';
import { copiesOf } from '../../../../core/material/copies';
import type { CreativeField } from '../../../../core/material/creative';
import { shownSize } from '../../../../core/material/sizes';
import { asking } from '../../../kit/asking';
import { Hint, Note } from '../../../kit/note';
import { Margin } from '../../../kit/place';
import { ShownPiece } from '../../../kit/shown-piece';
import { Code } from '../../../kit/text';
import { Planned } from '../../shared/planned';
import type { Part, Values } from './fields/bound';
import { useLetter } from './letter';
import { Results } from './margin';

/** What a buyer and what an affiliate sees while it is typed; then what came of it and what is planned. */
export function EditorMargin({ part }: { part: Part }) {
  const { creative } = part;
  const results = useQuery({
    ...asking(readCreativeResults, { params: { id: creative?.id ?? 'cre_none0' } }),
    enabled: creative !== null,
  }).data;
  return (
    <Margin width="w-[400px]">
      <Preview part={part} />
      {/* that a banner is heavy is said where its file is chosen, with what can be done */}
      {(creative?.kind === 'banner' ? [] : (creative?.advice ?? [])).map((said) => (
        <Note key={said} className="mt-2">
          {said}
        </Note>
      ))}
      {creative && <Planned planned={creative.planned} />}
      {results && (
        <section className="mt-5" aria-label="Results">
          <h2>What came of it</h2>
          <Results results={results} />
        </section>
      )}
    </Margin>
  );
}

/** A field as it reads now: filled where it is saved, as typed while it is changed. */
function readNow(part: Part, values: Values, field: 'words' | 'around' | 'body'): string {
  const { creative, form } = part;
  const isChanged = form.getFieldState(field as CreativeField, form.formState).isDirty;
  return creative && !isChanged ? creative.reads[field] : values[field];
}

/** The piece as it is typed, with the files that are chosen. */
function usePiece(part: Part) {
  const { form, kind, files, creative } = part;
  const values = form.watch();
  const letter = useLetter(kind === 'email' ? readNow(part, values, 'body') : '');
  const fileOf = (field: 'file' | 'poster') =>
    values[field] === null ? null : (files.get(values[field]) ?? creative?.files[field] ?? null);
  const { name, alt, code, address, note } = values;
  return {
    ...{ kind, name, alt, code, address, note, letter },
    file: fileOf('file'),
    poster: fileOf('poster'),
    words: readNow(part, values, 'words'),
    around: readNow(part, values, 'around'),
  };
}

type Piece = ReturnType<typeof usePiece>;

const sizeOf = ({ file }: Piece) =>
  file?.width && file.height ? shownSize({ width: file.width, height: file.height }) : null;

function Preview({ part }: { part: Part }) {
  const piece = usePiece(part);
  return (
    <>
      <section aria-label="What a buyer sees">
        <h2 className="mb-2">What a buyer sees</h2>
        <ShownPiece piece={piece} />
      </section>
      <section className="mt-5" aria-label="What an affiliate sees">
        <h2>What an affiliate sees</h2>
        <AffiliateSees piece={piece} />
      </section>
    </>
  );
}

function AffiliateSees({ piece }: { piece: Piece }) {
  const { name, note, kind } = piece;
  const size = sizeOf(piece);
  return (
    <>
      <p className="mt-1">
        <b className="font-semibold">{name || 'without a name'}</b>
        {size && (
          <span className="text-ink3">
            {' '}
            · {size.width} × {size.height}
          </span>
        )}
      </p>
      {note && <p dir="auto">{note}</p>}
      <Copied piece={piece} />
      {kind === 'email' && (
        <Hint className="mt-1">Copied as text, as HTML, or opened in a mail program to be sent on.</Hint>
      )}
    </>
  );
}

/** What is to be copied, with what stands for the own link of each. */
function Copied({ piece }: { piece: Piece }) {
  const size = sizeOf(piece);
  const { html } = copiesOf({
    ...piece,
    link: 'https://…/go/their-link',
    handle: 'their-handle',
    file: piece.file?.url ?? null,
    poster: piece.poster?.url ?? null,
    width: size?.width ?? null,
    height: size?.height ?? null,
  });
  if (!html) return null;
  return (
    <>
      <Hint className="mt-1">To be copied, with the own link of each:</Hint>
      <p
        className="mt-1 max-h-[150px] overflow-auto border border-rule bg-paper px-2 py-1 break-all"
        tabIndex={0}
      >
        <Code>{html}</Code>
      </p>
    </>
  );
}
