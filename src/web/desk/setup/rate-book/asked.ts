import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { readRateBook, type RateBookOut, type SetChange } from '../../../../contract/setup/rate-book';
import { events } from '../../../../core/terms/rate';
import { useAddress } from '../../../kit/address';
import { asking } from '../../../kit/asking';
import { withoutIdleTags } from './cells';

export type BookAsked = ReturnType<typeof useBookAsked>;

/** What the address asks the book for. */
export function useBookAsked() {
  const { params, put } = useAddress();
  const event: SetChange['event'] = events.find((e) => e === params.get('event')) ?? 'sale';
  return {
    event,
    payment: Number(params.get('payment') ?? 2) || 2,
    /** '' for today */
    asOf: params.get('day') ?? '',
    /** those beside the others, their ids by commas */
    affiliates: params.get('affiliates') ?? '',
    q: (params.get('q') ?? '').trim().toLowerCase(),
    /** sets parts of it; '' takes one out */
    put: (parts: Record<string, string>) => put(parts, { replace: true }),
  };
}

/** The book with the products that have a text in name or code. Kinds and everything stay: they decide where nothing narrower is set. */
function narrowedTo(book: RateBookOut, q: string): RateBookOut {
  if (!q) return book;
  const fits = (r: RateBookOut['rows'][number]) =>
    (r.of !== 'product' && r.of !== 'step') || `${r.name} ${r.code ?? ''}`.toLowerCase().includes(q);
  return { ...book, rows: book.rows.filter(fits) };
}

/** The book that was asked for, without the tags that say nothing unless they are wanted. */
export function useBook({ event, payment, asOf, affiliates, q }: BookAsked) {
  const book = useQuery({
    placeholderData: keepPreviousData,
    ...asking(readRateBook, {
      query: {
        event,
        ...(event === 'renewal' ? { payment } : {}),
        ...(asOf ? { day: asOf } : {}),
        ...(affiliates ? { affiliates } : {}),
      },
    }),
  });
  const [everyTag, setEveryTag] = useState(false);
  const { data } = book;
  const cut = useMemo(() => (data ? withoutIdleTags(data) : null), [data]);
  const whole = everyTag ? data : cut?.book;
  const shown = useMemo(() => (whole ? narrowedTo(whole, q) : null), [whole, q]);
  return {
    book,
    shown,
    /** products are searched for where there are more than a page of them */
    long: (whole?.rows.length ?? 0) > 14,
    tags: { hidden: cut?.hidden ?? 0, every: everyTag, toggle: () => setEveryTag(!everyTag) },
  };
}
