import { lazy, Suspense } from 'react';
import type { PortalHome } from '../../../contract/portal/home';
import { DottedItem } from '../../kit/dotted';
import { useProgramme } from '../../kit/programme';
import { Money, Small, Strong } from '../../kit/text';
import { comingWords } from './coming-words';

// charts are fetched when somebody looks at one
const ComingChart = lazy(() => import('./coming-chart'));

/** What was earned, what comes, and when: two figures, a sentence, a drawing. */
export function Earned({ home }: { home: PortalHome }) {
  const { due, earned30, shares30, coming } = home;
  return (
    <section aria-label="Earned">
      <div className="flex flex-wrap items-start gap-x-10 gap-y-3">
        <Figure name="Earned in 30 days">
          <Money value={earned30} />
        </Figure>
        <Figure name="Coming to you">
          <Money value={due} />
        </Figure>
        <p className="max-w-[300px] text-ink2">
          <When home={home} />
          {shares30.amount !== 0 && (
            <>
              {' '}
              Shares of others’ sales brought <Money value={shares30} /> of it.
            </>
          )}
        </p>
      </div>
      {coming.length > 0 && <Drawn coming={coming} />}
    </section>
  );
}

function Figure({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <p className="text-ink2">{name}</p>
      <p className="font-serif text-[26px] leading-tight font-semibold">{children}</p>
    </div>
  );
}

/** When what is coming comes, in words. */
function When({ home: { balances: b, clearsUntil, minimum } }: { home: PortalHome }) {
  const { day } = useProgramme();
  if (b.held.amount === 0 && b.cleared.amount === 0 && b.inRun.amount === 0)
    return <>What your links sell waits for the refund window here, then it is paid.</>;
  return (
    <>
      {b.inRun.amount !== 0 && (
        <>
          <Strong>
            <Money value={b.inRun} />
          </Strong>{' '}
          is on its way.{' '}
        </>
      )}
      {b.cleared.amount > 0 && (
        <>
          <Money value={b.cleared} /> has cleared
          {minimum ? (
            <>
              ; it is paid from <Money value={minimum} /> on.{' '}
            </>
          ) : (
            ' and is in the next payout. '
          )}
        </>
      )}
      {b.cleared.amount < 0 && (
        <>
          <Money value={b.cleared} /> was taken back after it had been paid, and is set off against what
          clears next.{' '}
        </>
      )}
      {b.held.amount !== 0 && clearsUntil !== null && (
        <>
          <Money value={b.held} /> waits for refund windows, the last until {day(clearsUntil)}.
        </>
      )}
    </>
  );
}

/** The drawing, with what its grounds stand for; the same in words for those who do not see it. */
function Drawn({ coming }: { coming: PortalHome['coming'] }) {
  const { day } = useProgramme();
  const kinds = new Set(coming.map((c) => c.kind));
  const says = [
    kinds.has('paid') && 'outlined: paid',
    (kinds.has('cleared') || kinds.has('in-run')) && 'solid: cleared or on its way',
    kinds.has('held') && 'hatched: held until the week of',
    kinds.has('expected') && 'dashed: if the next weeks go as the last four',
  ].filter(Boolean);
  return (
    <div className="mt-4">
      <div aria-hidden className="private max-sm:hidden">
        <Suspense fallback={<div className="h-[150px]" />}>
          <ComingChart coming={coming} day={day} />
        </Suspense>
      </div>
      <ul className="sm:sr-only">
        {coming.map((c, i) => (
          <DottedItem key={i} apart>
            <span>{comingWords(c, day)}</span>
            <Money value={c.amount} />
          </DottedItem>
        ))}
      </ul>
      <span className="max-sm:hidden">
        <Small below>{says.join(' · ')}</Small>
      </span>
    </div>
  );
}
