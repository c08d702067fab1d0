import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import { NavLink, Route, Routes } from 'react-router';
import { noteSeen, surveyOwnMaterial } from '../../contract/portal/material';
import { countOwnMessages } from '../../contract/portal/messages';
import { readPortalSession, signOutPortal } from '../../contract/session';
import { SignInAgain } from '../desk/frame';
import { SetByLink } from '../desk/passwords';
import { SignInOrForgotten } from '../desk/signin';
import { call } from '../kit/api';
import { asking } from '../kit/asking';
import { scrolling } from '../kit/layout';
import { Note } from '../kit/note';
import { Empty, Failed, Skeleton } from '../kit/place';
import { ProgrammeContext } from '../kit/programme';
import { useLooking, usePortalBase } from './base';
import { Details } from './details';
import { Earnings } from './earnings';
import { Figures } from './figures/page';
import { Home } from './home/home';
import { Material } from './material/page';
import { Messages } from './messages';
import { Payments } from './payments';
import { PolicyPage } from './policy';
import { ResourcesPage } from './resources/page';

/** The affiliate's side. */
export default function Portal() {
  const session = useQuery(asking(readPortalSession));
  if (session.isPending) return <Skeleton />;
  if (session.error) return <Failed fault={session.error} retry={() => void session.refetch()} />;
  const { person, programme, now } = session.data;
  if (!programme)
    return (
      <Narrow title="Not open yet">
        <p className="text-ink2">This programme is not set up yet.</p>
      </Narrow>
    );
  return (
    <ProgrammeContext value={{ ...programme, demo: false, now }}>
      <Routes>
        <Route
          path="password"
          element={
            <SetByLink
              side="portal"
              title={`Welcome to ${programme.name}`}
              frame={(title, children) => <Narrow title={title}>{children}</Narrow>}
            />
          }
        />
        <Route
          path="*"
          element={
            person ? (
              <Inside
                name={person.name}
                state={person.state}
                programme={programme.name}
                contact={programme.contact}
                logo={programme.logo}
              />
            ) : (
              <SignIn programme={programme.name} />
            )
          }
        />
      </Routes>
      <SignInAgain side="portal" />
    </ProgrammeContext>
  );
}

function Narrow({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="mx-auto mt-[12vh] w-[min(380px,92vw)]">
      <h1 className="mb-4">{title}</h1>
      {children}
    </main>
  );
}

function SignIn({ programme }: { programme: string }) {
  const queries = useQueryClient();
  return (
    <SignInOrForgotten
      side="portal"
      onDone={() => void queries.resetQueries()}
      frame={(forgotten, children) => (
        <Narrow title={forgotten ? 'A new password' : `Affiliates of ${programme}`}>
          {children}
          <p className="mt-6 text-ink3">
            Not an affiliate yet?{' '}
            <a className="link" href="/join">
              Apply
            </a>
            . Your password is set with the link in the approval message.
          </p>
        </Narrow>
      )}
    />
  );
}

const places = [
  ['', 'Home'],
  ['/creatives', 'Creatives'],
  ['/figures', 'Figures'],
  ['/resources', 'Resources'],
  ['/earnings', 'Earnings'],
  ['/payouts', 'Payouts'],
  ['/messages', 'Messages'],
  ['/policy', 'Terms'],
  ['/details', 'Details'],
] as const;

function Fresh({ count }: { count: number }) {
  if (count === 0) return null;
  return (
    <span className="ml-1 rounded-sm bg-copper-wash px-1 text-[12px] font-normal text-copper">
      {count} new
    </span>
  );
}

/** How much material came since this affiliate was here before. That it is here now is said once for a visit. */
function useFresh(looking: boolean): number {
  const queries = useQueryClient();
  const [noted, setNoted] = useState(looking);
  useEffect(() => {
    if (noted) return;
    void call(noteSeen)
      .catch(() => null)
      .finally(() => {
        setNoted(true);
        void queries.invalidateQueries({ queryKey: [surveyOwnMaterial.path] });
      });
  }, [noted, queries]);
  return useQuery({ ...asking(surveyOwnMaterial), enabled: noted }).data?.fresh ?? 0;
}

function Inside({
  name,
  state,
  programme,
  contact,
  logo,
}: {
  name: string;
  state: string;
  programme: string;
  contact: string;
  logo: string | null;
}) {
  const queries = useQueryClient();
  const base = usePortalBase();
  const looking = useLooking();
  const fresh = useFresh(looking);
  const unread = useQuery(asking(countOwnMessages)).data?.count ?? 0;
  return (
    <div className="flex h-full flex-col">
      {looking && (
        <p role="status" className="flex flex-wrap justify-between gap-3 bg-ink px-5 py-2 text-white">
          <span>
            As <b className="private">{name}</b> sees it: reading only, nothing can be changed here.
          </span>
          <a className="underline" href={`/affiliates/${base.split('/')[2] ?? ''}`}>
            Back to the desk
          </a>
        </p>
      )}
      <header className="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-rule bg-rail px-5 py-3">
        {logo && <img src={logo} alt="" className="h-7 self-center" />}
        <span className="font-serif text-[17px] font-semibold">{programme}</span>
        <span className="private text-ink2">{name}</span>
        <nav
          aria-label="Places"
          className="order-last flex w-full gap-5 overflow-x-auto sm:order-none sm:ml-6 sm:w-auto"
        >
          {places.map(([to, text]) => (
            <NavLink
              key={to}
              to={base + to}
              end
              className={({ isActive }) =>
                `border-b-2 py-[2px] whitespace-nowrap ${isActive ? 'border-copper font-semibold' : 'border-transparent text-ink2 hover:text-ink'}`
              }
            >
              {text}
              <Fresh count={to === '/creatives' ? fresh : to === '/messages' ? unread : 0} />
            </NavLink>
          ))}
        </nav>
        {!looking && (
          <button
            type="button"
            className="link ml-auto"
            onClick={() => {
              void call(signOutPortal).then(() => queries.resetQueries());
            }}
          >
            Sign out
          </button>
        )}
      </header>
      <main className={scrolling} tabIndex={0} aria-label="Portal">
        <div className="mx-auto w-[min(1020px,100%)] px-5 py-5">
          {state !== 'active' && state !== 'applied' && (
            <Note role="status" className="mb-4">
              Your account is {state}: your links lead buyers on and earn nothing now. Questions: {contact}
            </Note>
          )}
          <Routes>
            <Route index element={<Home />} />
            <Route path="creatives" element={<Material />} />
            <Route path="figures" element={<Figures />} />
            <Route path="messages" element={<Messages />} />
            <Route path="resources" element={<ResourcesPage />} />
            <Route path="policy" element={<PolicyPage />} />
            <Route path="earnings" element={<Earnings />} />
            <Route path="payouts" element={<Payments />} />
            <Route path="details" element={<Details />} />
            <Route path="*" element={<Empty title="There is no such page">Choose one above.</Empty>} />
          </Routes>
        </div>
      </main>
    </div>
  );
}
