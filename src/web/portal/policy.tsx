import { useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { readOwnPermissions } from '../../contract/recruit/practices';
import { acceptPolicy, readOwnPolicy } from '../../contract/setup/policy';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { DottedItem } from '../kit/dotted';
import { OwnPolicy } from '../kit/own-policy';
import { Empty, Failed, Skeleton } from '../kit/place';
import { State } from '../kit/state';
import { Day, Small } from '../kit/text';

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
      <Answered />
      <OwnPolicy
        policy={p}
        busy={accept.isPending}
        onAccept={() => accept.mutate({ body: { policy: p.id } })}
      />
    </>
  );
}

/** What was answered to a question about a way of promoting. */
function Answered() {
  const { data } = useQuery(asking(readOwnPermissions));
  if (!data?.rows.length) return null;
  return (
    <section className="mt-3" aria-label="What we answered you">
      <h2>What we answered you</h2>
      <ul>
        {data.rows.map((p) => (
          <DottedItem key={p.id}>
            <span className="font-semibold">{p.name}</span>{' '}
            <State is={p.allowed ? 'approved' : 'declined'} word={p.allowed ? 'you may' : 'please do not'} />{' '}
            <Small>
              <Day at={p.at} />
            </Small>
            {p.words && (
              <p dir="auto" className="font-serif text-ink2">
                {p.words}
              </p>
            )}
          </DottedItem>
        ))}
      </ul>
    </section>
  );
}
