import type { ReactNode } from 'react';
import { formatMoney, type Money as MoneyValue } from '../../core/money/amount';
import { useProgramme } from './programme';

/** An amount; below zero in madder with a true minus. */
export function Money({ value, strong = false }: { value: MoneyValue | null | undefined; strong?: boolean }) {
  if (!value) return <span className="text-ink3">—</span>;
  return (
    <span className={`private ${value.amount < 0 ? 'text-madder' : ''} ${strong ? 'font-semibold' : ''}`}>
      {formatMoney(value)}
    </span>
  );
}

/** A part per million as a percentage with one decimal; a dash where there is none. */
export function Share({ ppm }: { ppm: number | null }) {
  return ppm === null ? <span className="text-ink3">—</span> : <>{(ppm / 10_000).toFixed(1)} %</>;
}

const amount = /((?:[A-Z]{1,3})?\p{Sc}\s?\d(?:[\d.,]*\d)?|\d(?:[\d.,]*\d)?\s?\p{Sc})/u;

/** Words in which amounts may stand: those go behind the veil, the words do not. */
export function Worded({ text }: { text: string }) {
  return text.split(amount).map((part, i) =>
    i % 2 ? (
      <span key={i} className="private">
        {part}
      </span>
    ) : (
      part
    ),
  );
}

export function Day({ at }: { at: number | null }) {
  const { day } = useProgramme();
  return <>{at === null ? '—' : day(at)}</>;
}

export function Moment({ at }: { at: number | null }) {
  const { moment } = useProgramme();
  return <>{at === null ? '—' : moment(at)}</>;
}

/** The last day of what ends at midnight, else the moment of the end, which is exclusive. */
export function End({ at }: { at: number | null }) {
  const { end } = useProgramme();
  return <>{at === null ? '—' : end(at)}</>;
}

export function Code({ children }: { children: ReactNode }) {
  return <span className="font-mono text-[12px]">{children}</span>;
}

/** A column of sums: label left, figure right, a rule above each result, a double one below the last. */
export function Sums({
  rows,
}: {
  rows: { label: ReactNode; figure: ReactNode; weight?: 'part' | 'step' | 'sum' | 'aside' }[];
}) {
  return (
    <table className="sums">
      <tbody>
        {rows.map((row, i) => (
          <tr
            key={i}
            className={row.weight === 'sum' && i < rows.length - 1 ? 'subtotal' : (row.weight ?? 'part')}
          >
            <td>{row.label}</td>
            <td>{row.figure}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** A name that a row is about; behind the veil where that is drawn. */
export function Name({ children }: { children: ReactNode }) {
  return <b className="private font-semibold">{children}</b>;
}

/** A word that counts in a sentence. */
export function Strong({ children }: { children: ReactNode }) {
  return <b className="font-semibold text-ink">{children}</b>;
}

/** Said small beside or below what it belongs to. @param below on a line of its own */
export function Small({ below = false, children }: { below?: boolean; children: ReactNode }) {
  return <span className={`text-[12px] text-ink3 ${below ? 'block' : ''}`}>{children}</span>;
}

/** The title of a part of a sheet. */
export function Title({ children }: { children: ReactNode }) {
  return <span className="font-serif text-[15.5px] font-semibold">{children}</span>;
}
