import { toast } from 'sonner';
import { undoPlanned } from '../../../contract/equip/planned';
import type { PlannedOut } from '../../../contract/equip/planned-out';
import { useAct } from '../../kit/act';
import { Moment, Small } from '../../kit/text';
import { useMay } from '../roles';

/** What is planned, and what of it happened lately. */
export function Planned({ planned }: { planned: readonly PlannedOut[] }) {
  const may = useMay();
  const undo = useAct(undoPlanned, { done: () => toast('Undone: it will not happen') });
  const coming = planned.filter((p) => p.state === 'coming');
  const past = planned.filter((p) => p.state !== 'coming').slice(0, 4);
  if (!coming.length && !past.length) return null;
  return (
    <section className="mt-5" aria-label="Planned changes">
      <h2>Planned</h2>
      <ul className="mt-1">
        {coming.map((p) => (
          <li key={p.id} className="border-b border-dotted border-rule py-[5px]">
            <span className="flex justify-between gap-3">
              <Moment at={p.at} />
              {may(undoPlanned) && (
                <button
                  type="button"
                  className="link"
                  aria-label={`Undo ${p.what}`}
                  onClick={() => undo.mutate({ params: { id: p.id } })}
                >
                  undo
                </button>
              )}
            </span>
            <span className="break-words text-ink2">
              {p.what}: <s>{p.before}</s> → <b className="font-semibold">{p.after}</b>
            </span>
            <Small below>by {p.by}</Small>
          </li>
        ))}
        {past.map((p) => (
          <li key={p.id} className="py-[3px] text-[12px] text-ink3">
            <Moment at={p.ended} />: {p.what} → {p.after}, {p.state}
            {p.why && <>: {p.why}</>}
          </li>
        ))}
      </ul>
    </section>
  );
}
