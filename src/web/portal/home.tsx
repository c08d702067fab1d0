import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../contract/endpoint';
import { chooseCard, readPortalHome } from '../../contract/portal/portal';
import { timingWords } from '../../core/ledger/timing';
import { counted } from '../../core/text/counted';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { Copy } from '../kit/copy';
import { DottedItem } from '../kit/dotted';
import { Note, Said } from '../kit/note';
import { Empty, Failed, Skeleton } from '../kit/place';
import { useProgramme } from '../kit/programme';
import { QrLink } from '../kit/qr-link';
import { Select } from '../kit/select';
import { Code, Moment, Money, Strong } from '../kit/text';
import { usePortalBase } from './base';

type Places = ReplyOf<typeof readPortalHome>['places'];

/** Card and group, in the merchant's public words, and another card to choose where one is open. */
function OwnTerms({ place }: { place: Places }) {
  const { day } = useProgramme();
  const choose = useAct(chooseCard, {
    done: (p) => toast(`From ${day(p.from)} you are on ${p.coming?.name ?? p.card?.name ?? 'it'}`),
  });
  return (
    <Said gap={2}>
      {place.card && (
        <>
          Rate card <Strong>{place.card.name}</Strong>
          {place.card.about && `: ${place.card.about}`}.{' '}
        </>
      )}
      {place.group && (
        <>
          Group <Strong>{place.group.name}</Strong>
          {place.group.about && `: ${place.group.about}`}.{' '}
        </>
      )}
      {place.coming && (
        <>
          From {day(place.from)} on {place.coming.name}.{' '}
        </>
      )}
      {place.choices.length > 0 && (
        <span className="whitespace-nowrap">
          Change to{' '}
          <Select
            label="Change to"
            value=""
            disabled={choose.isPending}
            options={[['', 'another card…'], ...place.choices.map((c) => [c.id, c.name] as const)]}
            onPick={(card) => {
              if (card) choose.mutate({ body: { card } });
            }}
            className="w-auto"
          />{' '}
          from tomorrow
        </span>
      )}
    </Said>
  );
}

type View = ReplyOf<typeof readPortalHome>;

/** Links to copy, balances, and the last visits. */
export function Home() {
  const base = usePortalBase();
  const query = useQuery(asking(readPortalHome));
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const {
    links,
    balances: b,
    clicks30,
    orders30,
    visits,
    detailsComplete,
    waiting,
    places,
    referral,
    owns,
    promotes,
    policy,
  } = query.data;
  return (
    <>
      <Notices policy={policy} base={base} detailsComplete={detailsComplete} waiting={waiting} />
      <Balances b={b} />
      {promotes && (
        <Said gap={3}>
          {clicks30.toLocaleString('en-GB')} clicks and {counted(orders30, 'order')} in 30 days.
        </Said>
      )}
      {promotes && <OwnTerms place={places} />}
      {owns.length > 0 && (
        <Said gap={2}>
          You have{' '}
          {owns.map((o, i) => (
            <span key={o.product}>
              {i > 0 && ', '}
              <Strong>{o.percent}</Strong> of {o.product}
            </span>
          ))}
          : of what each sale leaves after commission and referral share.
        </Said>
      )}
      <Bringing referral={referral} />
      {promotes && (
        <>
          <Links links={links} />
          <Visits visits={visits} />
        </>
      )}
    </>
  );
}

/** The last visits by them. */
function Visits({ visits }: { visits: View['visits'] }) {
  return (
    <>
      <h2 className="mt-6">Last visits</h2>
      {visits.length === 0 ? (
        <Said>None yet. A visit appears here as soon as somebody follows a link.</Said>
      ) : (
        <ul>
          {visits.map((v, i) => (
            <DottedItem key={i} className="flex justify-between gap-4">
              <span>
                <Moment at={v.at} />
              </span>
              <span>{v.product}</span>
              <span className="text-ink3">{v.counted ?? 'counted'}</span>
            </DottedItem>
          ))}
        </ul>
      )}
    </>
  );
}

/** The links to copy, each with what it earns. */
function Links({ links }: { links: View['links'] }) {
  return (
    <>
      <h2 className="mt-6">Your tracking links</h2>
      {links.length === 0 ? (
        <div className="mt-2">
          <Empty title="No link yet">Links appear here the moment you are approved for a product.</Empty>
        </div>
      ) : (
        <ul className="mt-1">
          {links.map((l) => (
            <li
              key={l.code}
              className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1 border-b border-rule2 py-2"
            >
              <span className="min-w-[220px]">
                <b className="font-semibold">{l.product}</b> <span className="text-ink3">{l.price}</span>
                <br />
                <span className="text-ink2">
                  you earn <b className="text-ink">{l.reward}</b>
                  {l.renewals && <>, renewals {l.renewals}</>}, paid {timingWords[l.timing]}
                </span>
              </span>
              <span className="break-all">
                <Code>{l.link}</Code> <Copy text={l.link} /> · <QrLink address={l.link} />
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Bringing others in, and what it has earned. */
function Bringing({ referral }: { referral: View['referral'] }) {
  if (!referral) return null;
  return (
    <section className="mt-6" aria-labelledby="bring">
      <h2 id="bring">Bring others in</h2>
      <p className="mt-1 break-all">
        <Code>{referral.address}</Code> <Copy text={referral.address} /> ·{' '}
        <QrLink address={referral.address} />
      </p>
      <Said>
        {referral.said}{' '}
        {referral.count > 0 && (
          <>
            {referral.count === 1 ? 'One has' : `${referral.count} have`} joined by you and earned you{' '}
            <Strong>
              <Money value={referral.earned} />
            </Strong>
            .
          </>
        )}
      </Said>
    </section>
  );
}

/** What is held, cleared, on its way and paid. */
function Balances({ b }: { b: View['balances'] }) {
  const figures = [
    ['Held', b.held, 'ground-hatched', 'until the refund window has passed'],
    ['Cleared', b.cleared, 'ground-solid', 'in the next payout'],
    ['On its way', b.inRun, 'ground-solid', 'in a payout now'],
    ['Paid', b.paid, 'ground-outlined', 'so far'],
  ] as const;
  return (
    <>
      <div className="grid grid-cols-2 gap-4 sm:grid-cols-4">
        {figures.map(([name, amount, ground, about]) => (
          <div key={name} className="border-t border-ink pt-2">
            <div className="flex items-center gap-2 text-ink2">
              <i aria-hidden className={`size-[10px] border border-ink ${ground}`} />
              {name}
            </div>
            <div className="font-serif text-[22px] font-semibold">
              <Money value={amount} />
            </div>
            <div className="text-[12px] text-ink3">{about}</div>
          </div>
        ))}
      </div>
    </>
  );
}

/** What waits for the affiliate, and what is still being read. */
function Notices({
  policy,
  base,
  detailsComplete,
  waiting,
}: {
  policy: View['policy'];
  base: string;
  detailsComplete: boolean;
  waiting: string[];
}) {
  return (
    <>
      {policy && policy.at === null && (
        <Note role="status" className="mb-4">
          Our terms have changed and wait for you:{' '}
          <Link className="link" to={`${base}/policy`}>
            read and accept version {policy.number}
          </Link>
          .
        </Note>
      )}
      {!detailsComplete && (
        <Note role="status" className="mb-4">
          You cannot be paid yet:{' '}
          <Link className="link" to={`${base}/details`}>
            enter your payout details
          </Link>
          .
        </Note>
      )}
      {waiting.length > 0 && (
        <p role="status" className="mb-4 border-l-[3px] border-slate bg-slate-wash px-3 py-2">
          Being read: your application for {waiting.join(', ')}.
        </p>
      )}
    </>
  );
}
