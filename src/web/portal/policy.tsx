import { useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { acceptPolicy, readOwnPolicy } from '../../contract/setup/policy';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { OwnPolicy } from '../kit/own-policy';
import { Empty, Failed, Skeleton } from '../kit/place';

/** The terms as an affiliate reads them: what changes first, then the whole, and accepting. */
export function PolicyPage() {
  const query = useQuery(asking(readOwnPolicy));
  const accept = useAct(acceptPolicy, { done: () => toast('Accepted. Thank you.') });
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const p = query.data.current;
  if (!p) return <Empty title="No terms yet">The merchant has not published any.</Empty>;
  return (
    <>
      <h1>Terms</h1>
      <OwnPolicy
        policy={p}
        busy={accept.isPending}
        onAccept={() => accept.mutate({ body: { policy: p.id } })}
      />
    </>
  );
}
