import type { ReactNode } from 'react';
import { Offered } from './layout';

/** A box to tick, with its words. */
export function Tick({
  on,
  onChange,
  disabled = false,
  className = '',
  children,
}: {
  on: boolean;
  onChange: (on: boolean) => void;
  disabled?: boolean;
  className?: string;
  children: ReactNode;
}) {
  return (
    <label className={`flex items-center gap-2 ${className}`}>
      <input type="checkbox" disabled={disabled} checked={on} onChange={(e) => onChange(e.target.checked)} />
      <span>{children}</span>
    </label>
  );
}

/** What a group of boxes is called. */
export function Legend({ children }: { children: ReactNode }) {
  return <legend className="font-semibold text-ink2">{children}</legend>;
}

/** Some of several. */
export function Ticks<T extends string>({
  legend,
  options,
  ticked,
  onChange,
  className = '',
}: {
  legend: string;
  options: readonly (readonly [value: T, text: string])[];
  ticked: readonly T[];
  onChange: (ticked: T[]) => void;
  className?: string;
}) {
  return (
    <fieldset className={className}>
      <Legend>{legend}</Legend>
      <Offered>
        {options.map(([value, text]) => (
          <Tick
            key={value}
            on={ticked.includes(value)}
            onChange={(on) => onChange(on ? [...ticked, value] : ticked.filter((t) => t !== value))}
          >
            {text}
          </Tick>
        ))}
        {options.length === 0 && <span className="text-ink3">None yet.</span>}
      </Offered>
    </fieldset>
  );
}
