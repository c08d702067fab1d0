interface Props<T extends string> {
  value: T;
  options: readonly (readonly [value: T, text: string])[];
  onPick: (value: T) => void;
  /** for those who hear it, where no label stands around it */
  label?: string;
  autoFocus?: boolean;
  disabled?: boolean;
  className?: string;
}

const look = 'rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

/** One of some. */
export function Select<T extends string>({
  value,
  options,
  onPick,
  label,
  className = 'w-full',
  ...rest
}: Props<T>) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(e) => {
        const picked = options.find(([v]) => v === e.target.value);
        if (picked) onPick(picked[0]);
      }}
      className={`${look} ${className}`}
      {...rest}
    >
      {options.map(([v, text]) => (
        <option key={v} value={v}>
          {text}
        </option>
      ))}
    </select>
  );
}
