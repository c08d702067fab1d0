import type { LabelHTMLAttributes, ReactNode } from 'react';

/** The name above what is no single field. */
export function FieldName({ children }: { children: ReactNode }) {
  return <span className="block font-semibold text-ink2">{children}</span>;
}

/** A field and its name above it: the name is text, the field stands within. */
export function Labelled({ className = '', children, ...rest }: LabelHTMLAttributes<HTMLLabelElement>) {
  return (
    <label className={`block font-semibold text-ink2 ${className}`} {...rest}>
      {children}
    </label>
  );
}
