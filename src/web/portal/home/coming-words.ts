import type { PortalHome } from '../../../contract/portal/home';

type Column = PortalHome['coming'][number];

/** What stands under a column. @param day of a moment, in words */
export function comingFoot({ kind, at, isRest }: Column, day: (at: number) => string): string {
  if (kind === 'in-run') return 'on its way';
  if (at === null) return 'next payout';
  return isRest ? `${day(at)} on` : day(at);
}

const said: Record<Column['kind'], string> = {
  paid: 'Paid',
  'in-run': 'On its way',
  cleared: 'In the next payout',
  held: 'Held until the week of',
  expected: 'To be expected in the week of',
};

/** A column in words, for those who hear it. */
export const comingWords = (column: Column, day: (at: number) => string): string =>
  column.at === null ? said[column.kind] : `${said[column.kind]} ${comingFoot(column, day)}`;
