import type { CreativeRow } from '../../../../contract/equip/creatives';
import { creativeStateWords } from '../../../../core/material/lists';
import { sizeName } from '../../../../core/material/sizes';
import { counted } from '../../../../core/text/counted';
import { Hung, HungSheet } from '../../../kit/hung';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';

interface Props {
  row: CreativeRow;
  at: boolean;
  chosen: boolean;
  onLook: () => void;
  onOpen: () => void;
  onToggle: () => void;
}

/** One piece of the sample book: itself in its true proportions, and below it its name, its state and its clicks. */
export function Piece({ row, at, chosen, onLook, onOpen, onToggle }: Props) {
  return (
    <li
      id={row.id}
      aria-current={at || undefined}
      className="flex flex-col justify-end"
      onDoubleClick={onOpen}
    >
      <button
        type="button"
        aria-label={`${row.name}, ${labelOf(row)}`}
        onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? onToggle() : onLook())}
        className={`self-start text-left ${at ? 'outline-2 outline-offset-3 outline-copper' : ''} ${chosen ? 'bg-copper-wash outline-2 outline-offset-3 outline-slate' : ''}`}
      >
        <Shown row={row} />
      </button>
      <p className="mt-[6px] max-w-[200px] truncate text-[12px] font-semibold" title={row.name}>
        {row.name}
      </p>
      <p className="flex max-w-[200px] min-w-[96px] justify-between gap-3 text-[12px]">
        <PieceState row={row} />
        <span className="text-ink2" title={usedWords(row)}>
          {row.conversion === null ? '—' : (row.conversion / 10_000).toFixed(1)}
        </span>
      </p>
    </li>
  );
}

/** What it is, for those who hear it. */
function labelOf({ kind, file, state }: CreativeRow): string {
  const size = file?.width && file.height ? `${sizeName({ width: file.width, height: file.height })} ` : '';
  return `${size}${kind}, ${creativeStateWords[state]}`;
}

const usedWords = ({ orders, clicks }: CreativeRow) =>
  `${counted(orders, 'order')} of ${counted(clicks, 'click')} in 90 days`;

function PieceState({ row }: { row: CreativeRow }) {
  const { moment, end } = useProgramme();
  const [wrong] = row.contradicts;
  if (wrong && row.state === 'on')
    return (
      <span title={`Says ${wrong.says}; ${wrong.stands}`}>
        <State is="contradicts" word={`says ${wrong.says}`} />
      </span>
    );
  if (row.state === 'scheduled') return <State is="scheduled" word={`from ${moment(row.from!)}`} />;
  if (row.state === 'ended') return <State is="ended" word={`ended ${end(row.until!)}`} />;
  if (row.state === 'waiting') return <State is="waiting" word="its product waits" />;
  if (row.unused) return <State is="waiting" word="looks unused" />;
  return <State is={row.state} />;
}

/** The piece itself: a banner as a picture, words as text, a letter as a folded sheet. */
function Shown({ row }: { row: CreativeRow }) {
  if (row.kind === 'banner' && row.file) return <Hung file={row.file} alt="" />;
  if (row.kind === 'video')
    return <Hung file={row.poster} alt="" isVideo seconds={row.file?.seconds ?? null} />;
  return <HungSheet kind={row.kind} text={row.shown} />;
}
