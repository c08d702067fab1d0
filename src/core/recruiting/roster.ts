import { type Timing } from '../ledger/timing';
import type { Id } from '../text/id';
import type { PracticeKey } from './practices';
import type { AffiliateState } from './states';

/** A filter of the roster: what is left out does not matter. A segment is one with a name. */
export interface RosterFilter {
  state?: AffiliateState;
  q?: string;
  group?: Id<'set'> | 'none';
  tag?: Id<'set'> | 'none';
  card?: Id<'set'> | 'none';
  kind?: string;
  country?: string;
  timing?: Timing;
  lookedAfter?: Id<'staff'> | 'nobody';
  /** a practice that it applied with or was answered about */
  practice?: PracticeKey;
  /** something that asks for attention */
  only?: 'promoters' | 'bounced' | 'unaccepted' | 'no-details' | 'no-clicks' | 'trusted';
}

export const rosterOnly = {
  promoters: 'who promote, without partners who only have shares',
  bounced: 'whose mail bounces',
  unaccepted: 'who have not accepted the policy',
  'no-details': 'without payout details',
  'no-clicks': 'without a click in 90 days',
  trusted: 'who are trusted',
} as const;

/** Columns that the roster can show beside the name. */
export const rosterColumns = {
  handle: 'Handle',
  country: 'Country',
  state: 'State',
  timing: 'Paid',
  clicks: 'Clicks, 90 d',
  orders: 'Orders',
  owed: 'Owed',
  paid: 'Paid out',
  since: 'Since',
  group: 'Group',
  tags: 'Tags',
  card: 'Card',
  kind: 'Kind',
  lookedAfter: 'Looked after by',
  email: 'E-mail',
  sites: 'Sites',
} as const;
export type RosterColumn = keyof typeof rosterColumns;
export const usualColumns: RosterColumn[] = [
  'handle',
  'country',
  'state',
  'timing',
  'clicks',
  'orders',
  'owed',
  'paid',
  'since',
];

/** A row of a list to be read in: what was written of one affiliate. */
export interface RosterLine {
  line: number;
  handle: string;
  email: string;
  name: string;
  country: string;
  site: string;
  group: string;
  tags: string[];
  kind: string;
}

const headings: Record<string, keyof RosterLine> = {
  handle: 'handle',
  email: 'email',
  'e-mail': 'email',
  name: 'name',
  country: 'country',
  site: 'site',
  sites: 'site',
  group: 'group',
  tag: 'tags',
  tags: 'tags',
  kind: 'kind',
};

/** Which columns of a list are known by their heading; the others are passed over and named. */
export function knownHeadings(given: readonly string[]): {
  known: Map<string, keyof RosterLine>;
  passed: string[];
} {
  const known = new Map<string, keyof RosterLine>();
  const passed: string[] = [];
  for (const heading of given) {
    const field = headings[heading.trim().toLowerCase()];
    if (field) known.set(heading, field);
    else if (heading.trim() !== '') passed.push(heading);
  }
  return { known, passed };
}

const emailPattern = /^[^\s@"<>(),;:]+@[^\s@"<>(),;:]+\.[^\s@"<>(),;:.]{2,}$/;

/** What is wrong with a line on its own face, in words; null where nothing is. */
export function faultOfLine(l: RosterLine, kinds: readonly string[]): string | null {
  if (!l.handle && !l.email) return 'neither handle nor e-mail address';
  if (l.email && !emailPattern.test(l.email))
    return `“${l.email.slice(0, 60)}” is not an e-mail address, such as mara@loamletters.example`;
  if (l.country && !/^[A-Za-z]{2}$/.test(l.country))
    return `country “${l.country.slice(0, 30)}” is not two letters, such as PT`;
  if (l.kind && !kinds.includes(l.kind.toLowerCase()))
    return `kind “${l.kind.slice(0, 30)}” is not known, such as ${kinds[0]}`;
  if (l.site && !/^(https?:\/\/)?[^\s/$.?#]+\.[^\s]{2,}$/i.test(l.site))
    return `“${l.site.slice(0, 60)}” is not a site, such as loamletters.example`;
  if (l.name.length > 120) return 'the name is longer than 120 characters';
  return null;
}
