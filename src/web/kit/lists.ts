import { useInfiniteQuery } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import type { AnyEndpoint, QueryOf, ReplyOf } from '../../contract/endpoint';
import { call } from './api';

/** An endpoint whose address names one record, for a list of what belongs to it. */
export function under<E extends AnyEndpoint>(end: E, id: string): E {
  return { ...end, path: end.path.replace(':id', encodeURIComponent(id)) };
}

type PageOf<E> = ReplyOf<E> extends { rows: (infer T)[]; next: string | null } ? T : never;

/** The question for a page of a list, behind a row that was the last of the page before. */
function pageOf<E extends AnyEndpoint>(query: object, limit: number, after: string | undefined): QueryOf<E> {
  const asked: unknown = { ...query, limit, ...(after === undefined ? {} : { after }) };
  return asked as QueryOf<E>;
}

/** A list by keyset pages: rows grow as the end comes into view. */
export function useList<E extends AnyEndpoint>(
  end: E,
  query: Omit<QueryOf<E>, 'after' | 'limit'>,
  limit = 100,
) {
  const pages = useInfiniteQuery({
    queryKey: [end.path, 'list', query],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => call(end, { query: pageOf<E>(query, limit, pageParam) }),
    getNextPageParam: (last) => (last as { next: string | null }).next ?? undefined,
  });
  const rows = (pages.data?.pages ?? []).flatMap((p) => (p as { rows: PageOf<E>[] }).rows);
  const unreadable = (pages.data?.pages ?? []).reduce(
    (sum, p) => sum + ((p as { unreadable?: number }).unreadable ?? 0),
    0,
  );
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = pages;
  const more = useCallback(() => {
    if (!isFetchingNextPage) void fetchNextPage();
  }, [isFetchingNextPage, fetchNextPage]);
  return {
    rows,
    /** rows that the server could not read and left out */
    unreadable,
    first: pages.data?.pages[0],
    loading: pages.isPending || isFetchingNextPage,
    failed: pages.error,
    onEnd: hasNextPage ? more : undefined,
    complete: !hasNextPage && !pages.isPending,
    again: () => void pages.refetch(),
  };
}

/** The row that the keyboard is at, moved by J and K. */
export function useCursor<T, I extends string>(rows: T[], idOf: (row: T) => I, begin?: I | null) {
  const [at, setAt] = useState<I | null>(begin ?? null);
  const index = rows.findIndex((r) => idOf(r) === at);
  const move = (by: number) => {
    const next = rows[Math.min(rows.length - 1, Math.max(0, index < 0 ? 0 : index + by))];
    if (next) setAt(idOf(next));
    return next;
  };
  return { at, index, row: rows[index] ?? null, setAt, move };
}
