import { useQuery } from '@tanstack/react-query';
import { listCreatives, type CreativeRow } from '../../../../contract/equip/creatives';
import { creativeKinds, kindWords, type CreativeKind } from '../../../../core/material/lists';
import { call } from '../../../kit/api';
import { useList } from '../../../kit/lists';
import type { Filter } from './filter';

/** Pieces of a kind that are hung where every kind is shown. */
const shownOfEach = 24;

/** A row of the book: the pieces of a kind, and whether there are more of them than are hung. */
export interface Section {
  kind: CreativeKind;
  rows: CreativeRow[];
  hasMore: boolean;
  unreadable: number;
}

/** The book as it is to be hung. */
export interface Book {
  sections: Section[];
  /** pieces that could not be read and are left out */
  unreadable: number;
  loading: boolean;
  failed: unknown;
  again: () => void;
  onEnd: (() => void) | undefined;
}

async function readBook(filter: Filter): Promise<Section[]> {
  const parts = await Promise.all(
    creativeKinds.map((kind) => call(listCreatives, { query: { ...filter, kind, limit: shownOfEach } })),
  );
  return creativeKinds.map((kind, i) => ({
    kind,
    rows: parts[i]!.rows,
    hasMore: parts[i]!.next !== null,
    unreadable: parts[i]!.unreadable ?? 0,
  }));
}

/** Some of every kind. */
export function useWholeBook(filter: Filter): Book {
  const book = useQuery({
    queryKey: [listCreatives.path, 'book', filter],
    queryFn: () => readBook(filter),
  });
  return {
    sections: book.data ?? [],
    unreadable: (book.data ?? []).reduce((sum, section) => sum + section.unreadable, 0),
    loading: book.isPending,
    failed: book.error,
    again: () => void book.refetch(),
    onEnd: undefined,
  };
}

/** All of one kind, as far as somebody looks. */
export function useOneKind(filter: Filter & { kind: CreativeKind }): Book {
  const list = useList(listCreatives, filter, 60);
  return {
    sections: [{ kind: filter.kind, rows: list.rows, hasMore: false, unreadable: list.unreadable }],
    unreadable: list.unreadable,
    loading: list.loading,
    failed: list.failed,
    again: list.again,
    onEnd: list.onEnd,
  };
}

/** “Banners”. */
export function sectionTitle(kind: CreativeKind): string {
  const [, many] = kindWords[kind];
  return many.charAt(0).toUpperCase() + many.slice(1);
}
