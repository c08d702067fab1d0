import type { Ref } from 'react';

/** What a choice between some is told. */
export interface SelectProps<T extends string> {
  value: T;
  options: readonly (readonly [value: T, text: string])[];
  onPick: (value: T) => void;
  /** for those who hear it, where no label stands beside it */
  label?: string;
  id?: string;
  autoFocus?: boolean;
  disabled?: boolean;
  faulty?: boolean;
  describedBy?: string;
  onBlur?: () => void;
  className?: string;
  ref?: Ref<HTMLButtonElement>;
}

/** How the button of a choice looks, as one of a field. */
export const triggerLook = (faulty = false) =>
  `inline-flex items-center justify-between gap-2 rounded-sm border bg-sheet px-2 py-[5px] text-left font-normal text-ink disabled:bg-rail disabled:text-ink2 ${faulty ? 'border-madder' : 'border-rule'}`;

/** How a word of a sentence looks that can be chosen anew. */
export const wordLook = 'border-b border-dotted border-copper text-copper hover:text-copper-dark';
