import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { readOrder } from '../../../../contract/track/sales';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Copy } from '../../../kit/copy';
import { DottedItem } from '../../../kit/dotted';
import { Headed } from '../../../kit/layout';
import { Facts, Failed, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import { Code, Moment, Money } from '../../../kit/text';
import { Working } from '../../../kit/working';
import { eventWords } from '../../shared/ledger-words';
import { CorrectDialog, DeclineDialog, TargetActs, type Asked, type Target } from './acts';

type View = ReplyOf<typeof readOrder>;

/** A sale at the right of the list: what was sold, the working, the life of its commission, what the shop reported. */
export function OrderSheet({ id, onClose }: { id: string; onClose: () => void }) {
  const query = useQuery(asking(readOrder, { params: { id } }));
  return (
    <aside
      className="w-[430px] shrink-0 overflow-auto border-l border-rule bg-sheet px-[18px] py-4"
      aria-label="Sale"
      tabIndex={0}
    >
      {query.isPending && <Skeleton lines={8} />}
      {query.error && <Failed fault={query.error} />}
      {query.data && <Sheet of={query.data} onClose={onClose} />}
    </aside>
  );
}

const shareWords = { referral: 'referral share', 'co-owner': 'co-owner share' };

/** Who else has a part of this sale, and of what each part is a percent. */
function Shares({ of, acts }: { of: View; acts: (of: Target) => React.ReactNode }) {
  return (
    <>
      <h2 className="mt-4">Shares</h2>
      <ul>
        {of.shares.map((s) => (
          <DottedItem key={s.id}>
            <details>
              <summary className="grid cursor-pointer grid-cols-[1fr_auto_90px] items-baseline gap-2">
                <span>
                  <span className="private">{s.name}</span>{' '}
                  <span className="text-ink3">{shareWords[s.kind]}</span>
                </span>
                <State is={s.state} />
                <span className="text-right">
                  <Money of={s.left} />
                </span>
              </summary>
              {s.lines.map((l, i) => (
                <p key={i} className="grid grid-cols-[1fr_auto] gap-2 py-[2px] pl-4 text-ink2">
                  <span>
                    {of.lines.length > 1 && `${l.product}: `}
                    {l.text}, <Money of={l.basis} />
                  </span>
                  <Money of={l.amount} />
                </p>
              ))}
              {s.left.amount !== s.granted.amount && (
                <p className="pl-4 text-ink3">
                  Of <Money of={s.granted} /> granted.
                </p>
              )}
              {s.declined && <p className="pl-4 text-madder">Declined: {s.declined}</p>}
              <p className="pl-4 text-ink3">
                After hold, clears <Moment at={s.clearsAt} /> ·{' '}
                <Link className="link" to={`/affiliates/${s.payee}`}>
                  {s.name}
                </Link>
              </p>
              <div className="mt-1 mb-1 flex gap-2 pl-4">
                {acts({ id: s.id, what: shareWords[s.kind], whose: s.name, state: s.state })}
              </div>
            </details>
          </DottedItem>
        ))}
      </ul>
    </>
  );
}

function Sheet({ of, onClose }: { of: View; onClose: () => void }) {
  const { row } = of;
  const [asked, ask] = useState<Asked | null>(null);
  const own: Target | null = of.commission
    ? { id: of.commission, what: 'commission', whose: row.affiliate ?? '', state: row.state ?? '' }
    : null;
  return (
    <>
      <Head of={of} onClose={onClose} />
      <OrderFacts of={of} />
      <h2>Working</h2>
      <div className="mt-1">
        <Working of={of.working} />
      </div>
      {of.shares.length > 0 && <Shares of={of} acts={(t) => <TargetActs of={t} ask={ask} />} />}
      {of.life.length > 0 && <Life of={of} />}
      {of.reports.length > 0 && <Reports of={of} />}
      {own && (
        <div className="mt-4 flex gap-2">
          <TargetActs of={own} ask={ask} />
        </div>
      )}
      {asked && <AskedFor asked={asked} of={of} onClose={() => ask(null)} />}
    </>
  );
}

function AskedFor({ asked, of, onClose }: { asked: Asked; of: View; onClose: () => void }) {
  const { act, target } = asked;
  const { reference } = of.row;
  if (act === 'correct')
    return (
      <CorrectDialog
        target={target}
        reference={reference}
        currency={of.working.left.currency}
        onClose={onClose}
      />
    );
  return (
    <DeclineDialog
      target={target}
      reference={reference}
      withReferral={target.what === 'commission' && of.shares.some((s) => s.kind === 'referral')}
      onClose={onClose}
    />
  );
}

function Head({ of, onClose }: { of: View; onClose: () => void }) {
  const { row } = of;
  return (
    <Headed>
      <div>
        <h1>{row.reference}</h1>
        <div className="text-ink2">
          placed <Moment at={row.placedAt} />
        </div>
      </div>
      <div className="flex items-center gap-3">
        {row.state && <State is={row.state} />}
        <Button look="bare" onClick={onClose} aria-label="Close">
          ×
        </Button>
      </div>
    </Headed>
  );
}

/** What was sold through whom, when it is paid, and how it was reported. */
function OrderFacts({ of }: { of: View }) {
  const { row } = of;
  const { now } = useProgramme();
  return (
    <Facts
      rows={[
        [
          'Affiliate',
          row.affiliateId ? (
            <Link className="link" to={`/affiliates/${row.affiliateId}`}>
              {row.affiliate}
            </Link>
          ) : (
            'nobody'
          ),
        ],
        ...of.lines.map((l): [string, React.ReactNode] => [
          `${l.quantity} × ${l.code}`,
          <>
            {l.name}, <Money of={l.value} />
            {l.left.amount < l.value.amount && (
              <span className="text-madder">
                , left <Money of={l.left} />
              </span>
            )}
          </>,
        ]),
        ...(of.timing
          ? [
              [
                'Paid',
                <>
                  {of.timing === 'at-sale' ? (
                    'at sale'
                  ) : (
                    <>
                      after hold, clears <Moment at={of.clearsAt} />
                    </>
                  )}
                </>,
              ] as [string, React.ReactNode],
            ]
          : []),
        ...of.downloads.map((d): [string, React.ReactNode] => [
          'File',
          <>
            {d.name}{' '}
            <span className="text-ink3">
              a new link for the buyer, good for {Math.round((Date.parse(d.until) - now) / 86_400_000)} days:
            </span>{' '}
            <Copy text={d.url} />
          </>,
        ]),
        [
          'Reported',
          <>
            {of.way === 'server' ? (
              'by the server'
            ) : (
              <span className="text-ochre">by the fallback picture alone, which nobody signed</span>
            )}
            {of.otherWay && <span className="text-ochre"> · {of.otherWay}</span>}
          </>,
        ],
      ]}
    />
  );
}

/** What its commission lived through, in the journal. */
function Life({ of }: { of: View }) {
  return (
    <>
      <h2 className="mt-4">In the journal</h2>
      <ul>
        {of.life.map((e) => (
          <DottedItem key={e.id} className="grid grid-cols-[1fr_auto]">
            <span>
              {eventWords(e.event)}{' '}
              <span className="text-ink3">
                · {e.memo} · {e.by}
              </span>
              <br />
              <span className="text-ink3">
                <Moment at={e.at} />
              </span>
            </span>
            <Money of={e.amount} />
          </DottedItem>
        ))}
      </ul>
    </>
  );
}

/** What the shop reported of it. */
function Reports({ of }: { of: View }) {
  return (
    <>
      <h2 className="mt-4">Reports</h2>
      <ul>
        {of.reports.map((r) => (
          <DottedItem key={r.id}>
            <State is={r.outcome} />{' '}
            <span className="text-ink3">
              {r.way === 'server' ? r.call : 'picture'} <Code>{r.status}</Code> · <Moment at={r.at} />
            </span>
            <div className="text-ink2">{r.said}</div>
          </DottedItem>
        ))}
      </ul>
    </>
  );
}
