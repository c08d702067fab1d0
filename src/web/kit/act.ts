import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { AnyEndpoint, BodyOf, ParamsOf, QueryOf, ReplyOf } from '../../contract/endpoint';
import { call, Refused } from './api';

interface Given<E> { params?: ParamsOf<E>; query?: QueryOf<E>; body?: BodyOf<E>; file?: Blob }

/** An act on the server: says what failed, and refreshes what is shown. While it runs, a second one is not begun. */
export function useAct<E extends AnyEndpoint>(end: E, options: { done?: (reply: ReplyOf<E>) => void; quiet?: boolean; /** shows the fault where it belongs, instead of a passing message */ failed?: (fault: unknown) => void } = {}) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (given: Given<E>) => call(end, given),
    onSuccess: (reply) => {
      void queries.invalidateQueries();
      options.done?.(reply);
    },
    onError: (fault) => {
      options.failed?.(fault);
      if (!options.quiet && !options.failed) toast.error(fault instanceof Refused ? fault.problem.detail : 'Something went wrong in this page');
      // a stale record is shown anew, so that the next try starts from what is there
      if (fault instanceof Refused && (fault.problem.code === 'stale' || fault.problem.code === 'conflict')) void queries.invalidateQueries();
    },
  });
}
