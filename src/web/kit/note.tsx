import type { HTMLAttributes } from 'react';

interface NoteProps extends HTMLAttributes<HTMLElement> {
  tone?: 'waiting' | 'refused';
  as?: 'p' | 'div';
}

const tones = { waiting: 'border-ochre bg-ochre-wash', refused: 'border-madder bg-madder-wash' };

/** Something to know before going on, with a rule at its side: what waits, or what was refused. */
export function Note({ tone = 'waiting', as: Tag = 'p', className = '', children, ...rest }: NoteProps) {
  return (
    <Tag className={`border-l-[3px] px-3 py-2 ${tones[tone]} ${className}`} {...rest}>
      {children}
    </Tag>
  );
}

/** A quiet line below what it explains. */
export function Hint({ className = '', children, ...rest }: HTMLAttributes<HTMLParagraphElement>) {
  return (
    <p className={`text-[12px] text-ink3 ${className}`} {...rest}>
      {children}
    </p>
  );
}

interface SaidProps extends HTMLAttributes<HTMLParagraphElement> {
  /** how far below what stands above it */
  gap?: keyof typeof gaps;
  /** said by the way */
  faint?: boolean;
}

const gaps = { 1: 'mt-1', 2: 'mt-2', 3: 'mt-3', 8: 'mt-8' };

/** A sentence about what stands above it. */
export function Said({ gap = 1, faint = false, children, ...rest }: SaidProps) {
  return (
    <p className={`${gaps[gap]} ${faint ? 'text-ink3' : 'text-ink2'}`} {...rest}>
      {children}
    </p>
  );
}

/** A sentence about what is wrong with what stands above it. */
export function Wrong({ children, ...rest }: HTMLAttributes<HTMLParagraphElement>) {
  return (
    <p className="mt-1 text-madder" {...rest}>
      {children}
    </p>
  );
}
