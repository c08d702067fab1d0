import { useQuery, useQueryClient } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { NavLink, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { readCounts } from '../../contract/lookback/today';
import { signOut } from '../../contract/session';
import { moveClock } from '../../contract/setup/settings';
import { counted } from '../../core/text/counted';
import { useAct } from '../kit/act';
import { call } from '../kit/api';
import { asking } from '../kit/asking';
import { useBoundKeys } from '../kit/bound-keys';
import { Dialog } from '../kit/dialog';
import { itemLook } from '../kit/menu';
import { useProgramme } from '../kit/programme';
import { useRefresh } from '../kit/refresh';
import { useSigned } from '../kit/signed';
import { useVeil, useVeilKey } from '../kit/veil';
import { ChangePassword } from './passwords';
import { places } from './places';
import { PersonContext, useMay, type Person } from './roles';
import { SignInForm } from './signin';
import { WordMark } from './word-mark';

const Palette = lazy(() => import('./palette'));

function RailLink({ to, name, count }: { to: string; name: string; count?: number | undefined }) {
  return (
    <NavLink
      to={to}
      end={to === '/'}
      className={({ isActive }) =>
        `flex justify-between border-y px-4 py-[3.5px] ${isActive ? 'border-rule bg-sheet font-semibold text-ink shadow-[inset_3px_0_var(--color-copper)]' : 'border-transparent text-ink2 hover:text-ink'}`
      }
    >
      {name}
      {count ? (
        <b className="font-semibold text-ochre" aria-label={`${count} waiting`}>
          {count.toLocaleString('en-GB')}
        </b>
      ) : null}
    </NavLink>
  );
}

function Rail({ person }: { person: Person }) {
  const counts = useQuery({ ...asking(readCounts), refetchInterval: 30_000 });
  const queries = useQueryClient();
  const [changing, setChanging] = useState(false);
  return (
    <nav aria-label="Places" className="row-span-2 flex flex-col border-r border-rule bg-rail pt-3 pb-[10px]">
      <div className="px-4 pb-3">
        <WordMark />
      </div>
      {places.map((p) => (
        <div key={p.to}>
          {p.heading && (
            <div className="px-4 pt-3 pb-[3px] text-[10.5px] font-semibold tracking-[0.11em] text-ink3 uppercase">
              {p.heading}
            </div>
          )}
          <RailLink to={p.to} name={p.name} count={p.count ? counts.data?.[p.count] : undefined} />
        </div>
      ))}
      <div className="mt-auto border-t border-rule pt-2">
        <RailLink to="/settings" name="Settings" />
        <DropdownMenu.Root>
          <DropdownMenu.Trigger className="w-full px-4 py-[3.5px] text-left text-ink2 hover:text-ink">
            {person.name} · {person.role}
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content
              side="top"
              align="start"
              className="z-50 min-w-40 rounded-sm border border-rule bg-sheet py-1 shadow-float"
            >
              <DropdownMenu.Item className={itemLook} onSelect={() => setChanging(true)}>
                Change your password
              </DropdownMenu.Item>
              <DropdownMenu.Item
                className={itemLook}
                onSelect={() => {
                  void call(signOut).then(() => {
                    queries.clear();
                    window.location.assign('/');
                  });
                }}
              >
                Sign out
              </DropdownMenu.Item>
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        {changing && <ChangePassword side="desk" onClose={() => setChanging(false)} />}
      </div>
    </nav>
  );
}

function ClockMenu() {
  const { day, now } = useProgramme();
  const may = useMay();
  const move = useAct(moveClock, {
    done: (r) => {
      toast(`It is ${day(r.now)}${r.cleared ? `; ${counted(r.cleared, 'commission')} cleared` : ''}`);
    },
  });
  if (!may(moveClock))
    return (
      <span className="rounded-sm border border-dashed border-copper px-2 py-[3px] text-copper">
        Demo day {day(now)}
      </span>
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="rounded-sm border border-dashed border-copper px-2 py-[3px] text-copper"
        disabled={move.isPending}
      >
        Demo day {day(now)} <span aria-hidden>▸</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-44 rounded-sm border border-rule bg-sheet py-1 shadow-float"
        >
          {(['day', 'week', 'month'] as const).map((by) => (
            <DropdownMenu.Item key={by} className={itemLook} onSelect={() => move.mutate({ body: { by } })}>
              Move on by a {by}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Shown above a page whose session has ended: what was typed stays. */
export function SignInAgain({ side }: { side: 'desk' | 'portal' }) {
  const { expired, done } = useSigned();
  const refresh = useRefresh();
  return (
    <Dialog
      open={expired === side}
      onClose={() => undefined}
      title="Sign in to go on"
      about="Your session has ended. Nothing you typed is lost: what you were doing goes on after you sign in."
    >
      <SignInForm
        side={side}
        onDone={() => {
          done();
          void refresh();
        }}
      />
    </Dialog>
  );
}

/** The frame of the desk: rail, top line, place. */
export function Frame({ person, children }: { person: Person; children: ReactNode }) {
  const { name, demo } = useProgramme();
  const [finding, setFinding] = useState(false);
  const navigate = useNavigate();
  // so that the first Ctrl K takes every letter typed after it
  useEffect(() => {
    const timer = setTimeout(() => void import('./palette'), 1500);
    return () => clearTimeout(timer);
  }, []);
  const { veiled, toggle: toggleVeil } = useVeil();
  useVeilKey();
  const find = () => setFinding((open) => !open);
  useBoundKeys({ 'Control+k': find, 'Meta+k': find }, () => false);
  return (
    <PersonContext value={person}>
      <div className="grid h-full min-w-[1024px] grid-cols-[196px_1fr] grid-rows-[44px_1fr]">
        <a
          href="#place"
          className="sr-only focus:not-sr-only focus:fixed focus:z-50 focus:bg-sheet focus:p-2"
        >
          Skip to the place
        </a>
        <Rail person={person} />
        <header className="flex items-center gap-[14px] border-b border-rule px-5">
          <span className="text-ink2">{name}</span>
          <button
            type="button"
            onClick={() => setFinding(true)}
            className="ml-auto flex w-[250px] justify-between rounded-sm border border-rule bg-sheet px-[10px] py-1 text-ink3"
          >
            Find or do anything <kbd>Ctrl K</kbd>
          </button>
          <button
            type="button"
            aria-pressed={veiled}
            onClick={toggleVeil}
            title="Hides names, addresses and amounts"
            className={`rounded-sm border px-2 py-[3px] ${veiled ? 'border-ink bg-ink text-white' : 'border-rule text-ink2'}`}
          >
            {veiled ? 'Veiled' : 'Veil'} <kbd>V</kbd>
          </button>
          {demo && <ClockMenu />}
        </header>
        <main id="place" tabIndex={-1} className="flex min-h-0 min-w-0 flex-col outline-none">
          {children}
        </main>
      </div>
      {finding && (
        <Suspense>
          <Palette
            onClose={() => setFinding(false)}
            go={(to) => {
              setFinding(false);
              void navigate(to);
            }}
          />
        </Suspense>
      )}
      <SignInAgain side="desk" />
    </PersonContext>
  );
}
