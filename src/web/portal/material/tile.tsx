import { toast } from 'sonner';
import { takeOwnMaterial, type OwnRow } from '../../../contract/portal/material';
import { kindWords } from '../../../core/material/lists';
import { sizeName } from '../../../core/material/sizes';
import { useAct } from '../../kit/act';
import { Hung, HungSheet } from '../../kit/hung';
import { Small } from '../../kit/text';
import { useLooking } from '../base';

/** A creative in the list: itself, its name and size, and its link to copy. */
export function Tile({ row, onOpen }: { row: OwnRow; onOpen: () => void }) {
  const looking = useLooking();
  return (
    <li className="flex max-w-full flex-col justify-end">
      <button type="button" onClick={onOpen} aria-label={`${row.name}, look at it`} className="self-start">
        {row.kind === 'banner' || row.kind === 'video' ? (
          <Hung
            file={row.kind === 'video' ? row.poster : row.file}
            alt=""
            isVideo={row.kind === 'video'}
            seconds={row.file?.seconds ?? null}
          />
        ) : (
          <HungSheet kind={row.kind} text={row.shown || row.name} />
        )}
      </button>
      <p className="mt-[6px] max-w-[210px] text-[12.5px] font-semibold">
        {row.name}
        {row.isNew && <span className="ml-2 rounded-sm bg-copper-wash px-1 text-copper">new</span>}
      </p>
      <p className="text-[12.5px] text-ink2">
        <Size row={row} />
        {!looking && (
          <>
            {' '}
            · <CopyLink row={row} />
          </>
        )}
      </p>
    </li>
  );
}

const Size = ({ row: { kind, width, height } }: { row: OwnRow }) => (
  <Small>{width !== null && height !== null ? sizeName({ width, height }) : kindWords[kind][0]}</Small>
);

/** Makes the link the first time, and copies it. */
function CopyLink({ row }: { row: OwnRow }) {
  const take = useAct(takeOwnMaterial, {
    done: ({ copies }) => {
      navigator.clipboard.writeText(copies?.link ?? '').then(
        () => toast(`Your link of “${row.name}” is copied`),
        () => toast.error('The browser did not let it be copied; open it and select it by hand'),
      );
    },
  });
  return (
    <button
      type="button"
      className="link"
      disabled={take.isPending}
      aria-label={`Copy the link of ${row.name}`}
      onClick={() => take.mutate({ params: { id: row.id } })}
    >
      copy link
    </button>
  );
}
