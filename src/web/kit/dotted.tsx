import type { LiHTMLAttributes } from 'react';

/** One line of a list that is ruled with dots. */
export function DottedItem({
  apart = false,
  className = '',
  children,
  ...rest
}: LiHTMLAttributes<HTMLLIElement> & {
  /** one at the left, one at the right */
  apart?: boolean;
}) {
  return (
    <li
      className={`border-b border-dotted border-rule py-1 ${apart ? 'flex justify-between' : ''} ${className}`}
      {...rest}
    >
      {children}
    </li>
  );
}
