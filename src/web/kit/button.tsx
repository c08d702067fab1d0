import type { ButtonHTMLAttributes } from 'react';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: 'main' | 'quiet' | 'bare' | 'danger';
  /** the key that does the same, shown on the button */
  keyName?: string;
  busy?: boolean;
}

const lookOf = {
  main: 'bg-copper text-white border-copper hover:bg-copper-dark',
  quiet: 'bg-sheet text-ink border-rule hover:border-ink3',
  bare: 'bg-transparent text-copper border-transparent px-1 hover:text-copper-dark',
  danger: 'bg-sheet text-madder border-madder hover:bg-madder-wash',
};

/** A button; while its act is under way it takes no second click. */
export function Button({
  look = 'quiet',
  keyName,
  busy = false,
  children,
  className = '',
  disabled,
  type = 'button',
  ...rest
}: Props) {
  const keyLook = look === 'main' ? 'bg-white/15 border-white/40 text-white' : '';
  return (
    <button
      type={type}
      disabled={disabled === true || busy}
      aria-busy={busy || undefined}
      className={`inline-flex items-center gap-2 rounded-sm border px-3 py-[5px] font-semibold whitespace-nowrap disabled:opacity-55 ${lookOf[look]} ${className}`}
      {...rest}
    >
      {children}
      {keyName && <kbd className={keyLook}>{keyName}</kbd>}
    </button>
  );
}
