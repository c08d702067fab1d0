import { useIsMutating, useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { AnyEndpoint, ReplyOf } from '../../contract/endpoint';
import { Refused } from './api';
import { faultInWords } from './keeper';
import { useRefresh } from './refresh';
import { useSend, type Sent } from './send';

const keyOf = ({ method, path }: AnyEndpoint) => [method, path];

/** Whether an act of this kind is under way anywhere on the page: what waits for its outcome holds back until then. */
export const useUnderWay = (end: AnyEndpoint): boolean => useIsMutating({ mutationKey: keyOf(end) }) > 0;

/** An act on the server: says what failed, and has shown anew what it can have changed. A second click, or a repeat after a lost answer, does nothing twice. */
export function useAct<E extends AnyEndpoint>(
  end: E,
  options: {
    done?: (reply: ReplyOf<E>) => void;
    quiet?: boolean;
    /** shows the fault where it belongs, instead of a passing message */ failed?: (fault: unknown) => void;
  } = {},
) {
  const refresh = useRefresh();
  const send = useSend(end);
  return useMutation({
    mutationKey: keyOf(end),
    mutationFn: (given: Sent<E>) => send(given),
    onSuccess: (reply) => {
      void refresh(end);
      options.done?.(reply);
    },
    onError: (fault) => {
      options.failed?.(fault);
      if (!options.quiet && !options.failed) toast.error(faultInWords(fault));
      // a stale record is shown anew, so that the next try starts from what is there
      if (
        fault instanceof Refused &&
        (fault.problem.code === 'stale' ||
          fault.problem.code === 'conflict' ||
          fault.problem.code === 'key-reused')
      )
        void refresh();
    },
  });
}
