import type { HTMLAttributes } from 'react';

const part =
  (Tag: 'article' | 'div' | 'section' | 'main', classes: string) =>
  ({ className = '', children, ...rest }: HTMLAttributes<HTMLElement>) => (
    <Tag className={`${classes} ${className}`.trim()} {...rest}>
      {children}
    </Tag>
  );

/** A place in parts beside each other, each of which scrolls for itself. */
export const Split = part('div', 'flex min-h-0 flex-1');

/** The part of a place that has its list: a heading, then what fills the rest. */
export const Column = part('section', 'flex min-w-0 flex-1 flex-col');

/** The part of a place that is read and written on, as on a sheet. */
export const Sheet = part('section', 'min-w-0 flex-1 overflow-auto bg-sheet px-[22px] py-[18px]');

/** A page that scrolls as one. */
export const Page = part('main', 'h-full overflow-auto');

/** A page with one text, for somebody who is not signed in. */
export const Letter = part('main', 'mx-auto w-[min(620px,100%)] px-5 py-10');

/** A page with something to read from top to bottom, for everybody. */
export const Reading = part('div', 'mx-auto w-[min(760px,100%)] px-5 py-8');

/** Two beside each other, a line that holds each pair together. */
export const Pair = part('div', 'grid grid-cols-2 gap-3');

/** One at the left, one at the right, on the same line of letters. */
export const Apart = part('div', 'flex items-baseline justify-between');

/** What is offered beside each other, and goes on in the next line. */
export const Offered = part('div', 'mt-1 flex flex-wrap gap-x-4 gap-y-1');

/** What stands in a place that has nothing to show yet. */
export const Blank = part('div', 'flex-1 bg-sheet p-6');

/** A title at the left, what can be done at the right, level with its first line. */
export const Headed = part('div', 'flex items-start justify-between');

/** A piece of news among others. */
export const News = part('article', 'border-b border-rule2 py-2');

/** What stands in a row, at one height. */
export const Row = part('div', 'flex items-center gap-2');

/** The part that scrolls where the others stay. */
export const scrolling = 'min-h-0 flex-1 overflow-auto';
