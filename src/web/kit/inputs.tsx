import type { InputHTMLAttributes, TextareaHTMLAttributes } from 'react';

const look =
  'w-full rounded-sm border border-rule bg-sheet px-2 font-normal text-ink disabled:bg-rail disabled:text-ink2';

/** What is typed in one line. @param onText called with the whole text at each change */
export function TextLine({
  onText,
  className = '',
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & { onText: (text: string) => void }) {
  return (
    <input onChange={(e) => onText(e.target.value)} className={`${look} py-[5px] ${className}`} {...rest} />
  );
}

/** What is typed in several lines. @param onText called with the whole text at each change */
export function TextArea({
  onText,
  className = '',
  ...rest
}: TextareaHTMLAttributes<HTMLTextAreaElement> & { onText: (text: string) => void }) {
  return (
    <textarea onChange={(e) => onText(e.target.value)} className={`${look} py-1 ${className}`} {...rest} />
  );
}
