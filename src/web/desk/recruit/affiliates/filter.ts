import type { ReplyOf } from '../../../../contract/endpoint';
import type { listAffiliates } from '../../../../contract/recruit/roster';
import {
  rosterColumns,
  usualColumns,
  type RosterColumn,
  type RosterFilter,
} from '../../../../core/recruiting/roster';

export type RosterRow = ReplyOf<typeof listAffiliates>['rows'][number];

const filterKeys = [
  'state',
  'q',
  'group',
  'tag',
  'card',
  'kind',
  'country',
  'timing',
  'lookedAfter',
  'practice',
  'only',
] as const;

/** The filter that the address holds. */
export function filterIn(params: URLSearchParams): RosterFilter {
  return Object.fromEntries(filterKeys.flatMap((k) => (params.get(k) ? [[k, params.get(k)!]] : [])));
}

/** How the address wants the roster sorted. */
export const sortIn = (params: URLSearchParams) =>
  params.get('sort') === 'newest' ? ('newest' as const) : ('name' as const);

const isColumn = (text: string): text is RosterColumn => text in rosterColumns;

/** The columns that the address asks for; the usual ones where it asks for none. */
export const columnsIn = (params: URLSearchParams): readonly RosterColumn[] =>
  params.get('columns')?.split(',').filter(isColumn) ?? usualColumns;

/** The columns as the address holds them: nothing for the usual ones. */
export function columnsText(columns: readonly string[]): string {
  const text = columns.join(',');
  return text === usualColumns.join(',') ? '' : text;
}
