import type { LabelHTMLAttributes } from 'react';

/** A field and its name above it: the name is text, the field stands within. */
export function Labelled({ className = '', children, ...rest }: LabelHTMLAttributes<HTMLLabelElement>) {
  return (
    <label className={`block font-semibold text-ink2 ${className}`} {...rest}>
      {children}
    </label>
  );
}
