import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Route, Routes } from 'react-router';
import { readSession, type SessionOut } from '../../contract/session';
import { asking } from '../kit/asking';
import { ById, NoSuchPage } from '../kit/by-id';
import { Failed, Skeleton } from '../kit/place';
import { ProgrammeContext } from '../kit/programme';
import { useSigned } from '../kit/signed';
import { Frame } from './frame';
import { Today } from './lookback/today/today';
import { SignInPage } from './signin';

const SetUp = lazy(() => import('./setup').then((m) => ({ default: m.SetUp })));
const Products = lazy(() => import('./setup/products/list'));
const ProductEditor = lazy(() => import('./setup/products/editor'));
const Funnels = lazy(() => import('./setup/products/funnels'));
const RateBook = lazy(() => import('./setup/rate-book/book'));
const Sets = lazy(() => import('./setup/rate-book/sets'));
const Timeline = lazy(() => import('./setup/rate-book/timeline'));
const RehearsalPage = lazy(() => import('./setup/rate-book/rehearsal'));
const Applications = lazy(() => import('./recruit/applications/applications'));
const RulesPage = lazy(() => import('./recruit/applications/rules'));
const Prospects = lazy(() => import('./recruit/prospects/list'));
const ProspectPage = lazy(() => import('./recruit/prospects/page'));
const Invitations = lazy(() => import('./recruit/prospects/invitations'));
const Policy = lazy(() => import('./setup/policy/policy'));
const Offers = lazy(() => import('./recruit/offers/offers'));
const SeeAs = lazy(() => import('./recruit/affiliates/see-as'));
const Affiliates = lazy(() => import('./recruit/affiliates/list'));
const AffiliatePage = lazy(() => import('./recruit/affiliates/page'));
const Creatives = lazy(() => import('./equip/creatives/page'));
const CoveragePage = lazy(() => import('./equip/creatives/coverage/coverage'));
const Requests = lazy(() => import('./equip/creatives/requests'));
const CreativePage = lazy(() => import('./equip/creatives/editor'));
const NewCreative = lazy(() => import('./equip/creatives/editor').then((m) => ({ default: m.NewCreative })));
const Coupons = lazy(() => import('./equip/coupons/page'));
const Sales = lazy(() => import('./track/sales/sales'));
const Connection = lazy(() => import('./track/connection/connection'));
const Ledger = lazy(() => import('./settle/ledger/ledger'));
const Payouts = lazy(() => import('./settle/payouts/list'));
const RunPage = lazy(() => import('./settle/payouts/run'));
const Settings = lazy(() => import('./setup/settings/settings'));

/** The merchant's desk: set-up, sign-in, or the places. */
export default function Desk() {
  const session = useQuery({
    ...asking(readSession),
    refetchInterval: 60_000,
  });
  const [before, setBefore] = useState<SessionOut | null>(null);
  const data = session.data;
  useEffect(() => {
    if (data?.person) setBefore(data);
    else if (data && before) useSigned.setState({ expired: 'desk' });
  }, [data, before]);
  if (session.isPending) return <Skeleton />;
  if (session.error) return <Failed fault={session.error} retry={() => void session.refetch()} />;
  if (session.data.state === 'set-up') return <SetUp />;
  // a session that ends while a page is open is asked for above the page: what was typed stays
  const shown = session.data.person ? session.data : before;
  if (!shown?.person || !shown.programme) return <SignInPage />;
  const { person, programme, demo, now } = shown;
  return (
    <ProgrammeContext value={{ ...programme, demo, now }}>
      <Frame person={person}>
        <Suspense fallback={<Skeleton />}>
          <Routes>
            <Route path="/" element={<Today />} />
            <Route path="/products" element={<Products />} />
            <Route path="/products/funnels" element={<Funnels />} />
            <Route path="/products/new" element={<ProductEditor />} />
            <Route path="/products/:id" element={<ById kind="product" page={ProductEditor} />} />
            <Route path="/rates" element={<RateBook />} />
            <Route path="/rates/sets/:id?" element={<Sets />} />
            <Route path="/rates/timeline" element={<Timeline />} />
            <Route path="/rates/rehearsal/:id" element={<ById kind="rehearsal" page={RehearsalPage} />} />
            <Route path="/policy" element={<Policy />} />
            <Route path="/offers" element={<Offers />} />
            <Route path="/as" element={<SeeAs />} />
            <Route path="/prospects" element={<Prospects />} />
            <Route path="/prospects/invitations" element={<Invitations />} />
            <Route path="/prospects/:id" element={<ProspectPage />} />
            <Route path="/applications/rules" element={<RulesPage />} />
            <Route path="/applications/:id?" element={<Applications />} />
            <Route path="/affiliates" element={<Affiliates />} />
            <Route path="/affiliates/:id" element={<ById kind="affiliate" page={AffiliatePage} />} />
            <Route path="/creatives" element={<Creatives />} />
            <Route path="/creatives/coverage" element={<CoveragePage />} />
            <Route path="/creatives/requests" element={<Requests />} />
            <Route path="/creatives/new/:kind" element={<NewCreative />} />
            <Route path="/creatives/:id" element={<ById kind="creative" page={CreativePage} />} />
            <Route path="/coupons" element={<Coupons />} />
            <Route path="/sales/:id?" element={<Sales />} />
            <Route path="/connection" element={<Connection />} />
            <Route path="/ledger" element={<Ledger />} />
            <Route path="/payouts" element={<Payouts />} />
            <Route path="/payouts/:id" element={<ById kind="run" page={RunPage} />} />
            <Route path="/settings" element={<Settings />} />
            <Route path="*" element={<NoSuchPage />} />
          </Routes>
        </Suspense>
      </Frame>
    </ProgrammeContext>
  );
}
