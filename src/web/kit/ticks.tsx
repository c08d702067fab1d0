import type { ReactNode } from 'react';

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

/** Some of several. */
export function Ticks({
  legend,
  options,
  ticked,
  onChange,
}: {
  legend: string;
  options: readonly (readonly [value: string, text: string])[];
  ticked: readonly string[];
  onChange: (ticked: string[]) => void;
}) {
  return (
    <fieldset>
      <legend className="font-semibold text-ink2">{legend}</legend>
      <div className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
        {options.map(([value, text]) => (
          <label key={value} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={ticked.includes(value)}
              onChange={() =>
                onChange(ticked.includes(value) ? ticked.filter((t) => t !== value) : [...ticked, value])
              }
            />{' '}
            {text}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
