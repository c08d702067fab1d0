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
