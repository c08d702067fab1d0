import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { moveAffiliate, readAffiliate } from '../../../../contract/recruit/affiliates';
import type { Id } from '../../../../core/text/id';
import { asking } from '../../../kit/asking';
import { useKeys } from '../../../kit/keys';
import { Split } from '../../../kit/layout';
import { Failed, Skeleton } from '../../../kit/place';
import { useMay } from '../../roles';
import { PracticesOf } from '../../shared/practices-of';
import { AffiliateBar, type Asked } from './acts/bar';
import { GiveUp } from './acts/give-up';
import { MessageDialog } from './acts/message';
import { MoveDialog } from './acts/move';
import { TimingDialog } from './acts/timing';
import { Commissions } from './record/commissions';
import { AffiliateFacts, Head } from './record/facts';
import { History } from './record/history';
import { AffiliateMargin } from './record/margin';
import { Applications, Messages } from './record/said';
import { TermsInForce } from './record/terms';
import { type View } from './record/view';

/** One affiliate: what it is, earns and was told; its sums in the margin; what can be done with it. */
export default function AffiliatePage({ id }: { id: Id<'affiliate'> }) {
  const query = useQuery(asking(readAffiliate, { params: { id } }));
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return <Page affiliate={query.data} />;
}

function Page({ affiliate }: { affiliate: View }) {
  const may = useMay();
  const navigate = useNavigate();
  const [asked, ask] = useState<Asked | null>(null);
  const keys = useKeys([
    {
      key: 'm',
      what: 'write to it',
      act: () => {
        if (may(moveAffiliate) && affiliate.joinedAt !== null) ask('write');
      },
    },
    { key: 'Escape', what: 'back to the roster', act: () => void navigate('/affiliates') },
  ]);
  return (
    <>
      <Split>
        <Sheet affiliate={affiliate} />
        <AffiliateMargin affiliate={affiliate} />
      </Split>
      <AffiliateBar affiliate={affiliate} ask={ask} />
      {asked && <AskedFor act={asked} affiliate={affiliate} onClose={() => ask(null)} />}
      {keys}
    </>
  );
}

function Sheet({ affiliate }: { affiliate: View }) {
  return (
    <section
      className="min-w-0 flex-1 overflow-auto bg-sheet px-5 py-4"
      tabIndex={0}
      aria-label={affiliate.name}
    >
      <Head affiliate={affiliate} />
      <AffiliateFacts affiliate={affiliate} />
      <h2 className="mt-4">
        Terms in force{' '}
        <Link className="link font-sans text-[13px] font-normal" to={`/rates?affiliates=${affiliate.id}`}>
          in the rate book, with the working
        </Link>
      </h2>
      <TermsInForce affiliate={affiliate} />
      <Part title="Ways of promoting">
        <PracticesOf
          whose={{ affiliate: affiliate.id, name: affiliate.name }}
          practices={affiliate.practices}
          asked={false}
        />
      </Part>
      <Part title="Last commissions">
        <Commissions affiliate={affiliate} />
      </Part>
      <Part title="Applications">
        <Applications affiliate={affiliate} />
      </Part>
      <Part title="History">
        <History affiliate={affiliate} />
      </Part>
      <Part title="Messages">
        <Messages affiliate={affiliate} />
      </Part>
    </section>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <h2 className="mt-5">{title}</h2>
      {children}
    </>
  );
}

function AskedFor({ act, affiliate, onClose }: { act: Asked; affiliate: View; onClose: () => void }) {
  if (act === 'write') return <MessageDialog whom={{ ids: [affiliate.id] }} onClose={onClose} />;
  if (act === 'give-up') return <GiveUp affiliate={affiliate} onClose={onClose} />;
  if (act === 'timing') return <TimingDialog affiliate={affiliate} onClose={onClose} />;
  return <MoveDialog affiliate={affiliate} move={act} onClose={onClose} />;
}
