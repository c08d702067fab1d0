import type { LiHTMLAttributes } from 'react';

/** One line of a list that is ruled with dots. */
export function DottedItem({ className = '', children, ...rest }: LiHTMLAttributes<HTMLLIElement>) {
  return (
    <li className={`border-b border-dotted border-rule py-1 ${className}`} {...rest}>
      {children}
    </li>
  );
}
