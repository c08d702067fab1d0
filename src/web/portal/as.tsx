import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Id } from '../../core/text/id';
import { viewAs } from '../kit/api';
import { useVeilKey } from '../kit/veil';
import { PortalBase } from './base';
import Portal from './portal';

/** The portal as one of the affiliates sees it, for staff: its own cache, and every call says as whom it reads. */
export default function AsAffiliate({ id }: { id: Id<'affiliate'> }) {
  // what is kept of one affiliate is never shown for another
  return <As key={id} id={id} />;
}

function As({ id }: { id: Id<'affiliate'> }) {
  const [queries] = useState(
    () => new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: false } } }),
  );
  const [isReady, setReady] = useState(false);
  useVeilKey();
  useEffect(() => {
    viewAs(id);
    setReady(true);
    return () => viewAs(null);
  }, [id]);
  if (!isReady) return null;
  return (
    <QueryClientProvider client={queries}>
      <PortalBase value={`/as/${id}`}>
        <Portal />
      </PortalBase>
    </QueryClientProvider>
  );
}
