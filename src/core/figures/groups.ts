/** What an affiliate’s figures are told apart by. */
export const figureGroups = [
  'day',
  'link',
  'creative',
  'coupon',
  'product',
  's1',
  's2',
  's3',
  's4',
  's5',
] as const;
export type FigureGroup = (typeof figureGroups)[number];

export const groupWords: Record<FigureGroup, string> = {
  day: 'by day',
  link: 'by link',
  creative: 'by creative',
  coupon: 'by coupon',
  product: 'by product',
  s1: 'by sub-id s1',
  s2: 'by sub-id s2',
  s3: 'by sub-id s3',
  s4: 'by sub-id s4',
  s5: 'by sub-id s5',
};
