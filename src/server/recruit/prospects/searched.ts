import { type Rank } from '../../../core/recruiting/prospects';
import { type Id } from '../../../core/text/id';
import { type Sqlite } from '../../ground/db/sqlite';

export interface ProspectRecord {
  n: number;
  id: string;
  name: string;
  name_key: string;
  country: string;
  sites: string;
  kinds: string;
  audience: number;
  intro: string;
  sales: number;
  refunds: number;
  since: string;
  standing: number;
  vouched: string;
  state: 'never' | 'invited' | 'joined';
  affiliate: Id<'affiliate'> | null;
}

export interface ProspectFilter {
  q?: string;
  kind?: string;
  country?: string;
  standing?: number;
  state?: string;
  vouched?: boolean;
  tag?: string;
}

export interface Found {
  row: ProspectRecord;
  rank: Rank | null;
}

export interface FoundPage {
  rows: Found[];
  next: string | null;
}

/** What is searched: a connection that reads, and a number that changes whenever our copy of the partners does. */
export interface Searched {
  sqlite: Sqlite;
  stamp: number;
}

/** Kept for each connection. */
export function perConnection<T>(build: (sqlite: Sqlite) => T): (sqlite: Sqlite) => T {
  const made = new WeakMap<Sqlite, T>();
  return (sqlite) => {
    let found = made.get(sqlite);
    if (found === undefined) made.set(sqlite, (found = build(sqlite)));
    return found;
  };
}
