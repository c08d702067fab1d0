import { useQuery } from '@tanstack/react-query';
import { readPortalHome, type PortalHome } from '../../../contract/portal/home';
import { asking } from '../../kit/asking';
import { Said } from '../../kit/note';
import { Failed, Skeleton } from '../../kit/place';
import { Strong } from '../../kit/text';
import { Bringing } from './bringing';
import { Earned } from './earned';
import { FromTheDesk } from './from-the-desk';
import { Going } from './going';
import { Links } from './links';
import { NewPieces } from './new-pieces';
import { PageLinks } from './page-links';
import { ToDo } from './to-do';

/** What an affiliate reads first: what it earned, what comes and when, what is new, what is to be done, its links. */
export function Home() {
  const query = useQuery(asking(readPortalHome));
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const home = query.data;
  return (
    <div className="gap-x-6 lg:flex">
      <div className="min-w-0 lg:w-[650px] lg:shrink-0">
        <Earned home={home} />
        <Owns owns={home.owns} />
        {home.promotes && (
          <>
            <NewPieces />
            <Links links={home.links} />
            {home.links.length > 0 && <PageLinks />}
          </>
        )}
      </div>
      <aside className="mt-8 min-w-0 space-y-8 lg:mt-0 lg:flex-1 lg:border-l lg:border-rule lg:pl-6">
        <ToDo home={home} />
        {home.promotes && <Going going={home.going} />}
        <FromTheDesk />
        <Bringing referral={home.referral} />
      </aside>
    </div>
  );
}

/** What somebody has a part in, beside what they promote. */
function Owns({ owns }: { owns: PortalHome['owns'] }) {
  if (owns.length === 0) return null;
  return (
    <Said gap={3}>
      You have{' '}
      {owns.map((o, i) => (
        <span key={o.product}>
          {i > 0 && ', '}
          <Strong>{o.percent}</Strong> of {o.product}
        </span>
      ))}
      : of what each sale leaves after commission and referral share.
    </Said>
  );
}
