export const entryWords = {
  none: 'not submitted',
  submitted: 'with the reviewer',
  question: 'the reviewer asks',
  listed: 'listed',
  refused: 'refused',
} as const;
