import { useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { acceptPolicy, readOwnPolicy } from '../../contract/setup/policy';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { Note, Said } from '../kit/note';
import { Empty, Failed, Skeleton } from '../kit/place';
import { PolicyChanges, PolicySections } from '../kit/policy';
import { useProgramme } from '../kit/programme';
import { Day } from '../kit/text';

const ends = {
  remind: 'You will be reminded then.',
  'hold-pay': 'From that day on you are not paid until you have accepted.',
  pause: 'From that day on your account is paused until you have accepted.',
} as Record<string, string>;

/** The terms as an affiliate reads them: what changes first, then the whole, and accepting. */
export function PolicyPage() {
  const { now } = useProgramme();
  const query = useQuery(asking(readOwnPolicy));
  const accept = useAct(acceptPolicy, { done: () => toast('Accepted. Thank you.') });
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const p = query.data.current;
  if (!p) return <Empty title="No terms yet">The merchant has not published any.</Empty>;
  return (
    <>
      <h1>Terms</h1>
      <Said>
        Version {p.number}, {p.holdsFrom > now ? 'will hold' : 'holds'} from <Day at={p.holdsFrom} />.
      </Said>
      {p.acceptedAt !== null ? (
        <p role="status" className="mt-3 border-l-[3px] border-verdigris bg-verdigris-wash px-3 py-2">
          You accepted this version on <Day at={p.acceptedAt} />.
        </p>
      ) : (
        <Note as="div" role="status" className="mt-3 flex flex-wrap items-center justify-between gap-3">
          <span>
            You have not accepted this version yet.{' '}
            {p.inNotice && (
              <>
                Please do by <Day at={p.due} />. {ends[p.atEnd]}
              </>
            )}
          </span>
          <Button
            look="main"
            busy={accept.isPending}
            onClick={() => accept.mutate({ body: { policy: p.id } })}
          >
            Accept version {p.number}
          </Button>
        </Note>
      )}
      {p.changes.length > 0 && (
        <>
          <h2 className="mt-5">What changes</h2>
          <PolicyChanges sections={p.changes} />
        </>
      )}
      <div className="mt-6 border-t border-ink" />
      <PolicySections sections={p.sections} />
    </>
  );
}
