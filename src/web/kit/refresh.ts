import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { AnyEndpoint } from '../../contract/endpoint';
import { isTouchedBy } from '../../contract/touched';

/** Has shown anew what an act can have changed: without an act, everything. Resolves when what is on the screen is there. */
export function useRefresh(): (act?: AnyEndpoint) => Promise<void> {
  const queries = useQueryClient();
  return useCallback(
    (act) =>
      queries.invalidateQueries({
        predicate: ({ queryKey: [path] }) =>
          !act || typeof path !== 'string' || !path.startsWith('/api/') || isTouchedBy(act, { path }),
      }),
    [queries],
  );
}
