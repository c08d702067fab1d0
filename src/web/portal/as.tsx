import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Navigate, useParams } from 'react-router';
import { viewAs } from '../kit/api';
import { useVeilKey } from '../kit/veil';
import { PortalBase } from './base';
import Portal from './portal';

/** The portal as one of the affiliates sees it, for staff: its own cache, and every call says as whom it reads. */
export default function AsAffiliate() {
  const { id = '' } = useParams();
  // what is kept of one affiliate is never shown for another
  return id ? <As key={id} id={id} /> : <Navigate to="/policy" replace />;
}

function As({ id }: { id: string }) {
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
