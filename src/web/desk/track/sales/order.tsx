import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { readOrder } from '../../../../contract/track/sales';
import type { Id } from '../../../../core/text/id';
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
export function OrderSheet({ id, onClose }: { id: Id<'order'>; onClose: () => void }) {
  const query = useQuery(asking(readOrder, { params: { id } }));
  return (
    <aside
      className="w-[430px] shrink-0 overflow-auto border-l border-rule bg-sheet px-[18px] py-4"
      aria-label="Sale"
      tabIndex={0}
    >
      {query.isPending && <Skeleton lines={8} />}
      {query.error && <Failed fault={query.error} />}
      {query.data && <Sheet sale={query.data} onClose={onClose} />}
    </aside>
  );
}

const shareWords = { referral: 'referral share', 'co-owner': 'co-owner share' };

/** Who else has a part of this sale, and of what each part is a percent. */
function Shares({ sale, acts }: { sale: View; acts: (target: Target) => React.ReactNode }) {
  return (
    <>
      <h2 className="mt-4">Shares</h2>
      <ul>
        {sale.shares.map((s) => (
          <DottedItem key={s.id}>
            <details>
              <summary className="grid cursor-pointer grid-cols-[1fr_auto_90px] items-baseline gap-2">
                <span>
                  <span className="private">{s.name}</span>{' '}
                  <span className="text-ink3">{shareWords[s.kind]}</span>
                </span>
                <State is={s.state} />
                <span className="text-right">
                  <Money value={s.left} />
                </span>
              </summary>
              {s.lines.map((l, i) => (
                <p key={i} className="grid grid-cols-[1fr_auto] gap-2 py-[2px] pl-4 text-ink2">
                  <span>
                    {sale.lines.length > 1 && `${l.product}: `}
                    {l.text}, <Money value={l.basis} />
                  </span>
                  <Money value={l.amount} />
                </p>
              ))}
              {s.left.amount !== s.granted.amount && (
                <p className="pl-4 text-ink3">
                  Of <Money value={s.granted} /> granted.
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

function Sheet({ sale, onClose }: { sale: View; onClose: () => void }) {
  const { row } = sale;
  const [asked, ask] = useState<Asked | null>(null);
  const own: Target | null = sale.commission
    ? { id: sale.commission, what: 'commission', whose: row.affiliate ?? '', state: row.state ?? '' }
    : null;
  return (
    <>
      <Head sale={sale} onClose={onClose} />
      <OrderFacts sale={sale} />
      <h2>Working</h2>
      <div className="mt-1">
        <Working working={sale.working} />
      </div>
      {sale.shares.length > 0 && <Shares sale={sale} acts={(t) => <TargetActs target={t} ask={ask} />} />}
      {sale.life.length > 0 && <Life sale={sale} />}
      {sale.reports.length > 0 && <Reports sale={sale} />}
      {own && (
        <div className="mt-4 flex gap-2">
          <TargetActs target={own} ask={ask} />
        </div>
      )}
      {asked && <AskedFor asked={asked} sale={sale} onClose={() => ask(null)} />}
    </>
  );
}

function AskedFor({ asked, sale, onClose }: { asked: Asked; sale: View; onClose: () => void }) {
  const { act, target } = asked;
  const { reference } = sale.row;
  if (act === 'correct')
    return (
      <CorrectDialog
        target={target}
        reference={reference}
        currency={sale.working.left.currency}
        onClose={onClose}
      />
    );
  return (
    <DeclineDialog
      target={target}
      reference={reference}
      withReferral={target.what === 'commission' && sale.shares.some((s) => s.kind === 'referral')}
      onClose={onClose}
    />
  );
}

function Head({ sale, onClose }: { sale: View; onClose: () => void }) {
  const { row } = sale;
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
/** Of a page's address, what says which page of the shop it is. */
const pathOf = (address: string) => address.replace(/^https?:\/\/[^/]+/, '') || '/';

/** What the buyer came by, and the code that the order carried. */
function cameRows({ link, creative, coupon, subIds, landing }: View['came']): [string, React.ReactNode][] {
  const marks = subIds.map(({ name, value }) => `${name} ${value}`).join(', ');
  const rows: [string, React.ReactNode][] = [];
  if (link)
    rows.push([
      'Came by',
      <>
        link <Code>{link}</Code>
        {creative && (
          <>
            {' '}
            of{' '}
            <Link className="link" to={`/creatives/${creative.id}`}>
              {creative.name}
            </Link>
          </>
        )}
        {marks && <span className="text-ink3"> · {marks}</span>}
        {landing && <span className="break-all text-ink3"> · to {pathOf(landing)}</span>}
      </>,
    ]);
  if (coupon)
    rows.push([
      'Coupon',
      coupon.id ? (
        <Link className="link" to={`/coupons?id=${coupon.id}`}>
          {coupon.code}
        </Link>
      ) : (
        <>
          {coupon.code} <span className="text-ink3">none of yours</span>
        </>
      ),
    ]);
  return rows;
}

function OrderFacts({ sale }: { sale: View }) {
  const { row } = sale;
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
        ...cameRows(sale.came),
        ...sale.lines.map((l): [string, React.ReactNode] => [
          `${l.quantity} × ${l.code}`,
          <>
            {l.name}, <Money value={l.value} />
            {l.left.amount < l.value.amount && (
              <span className="text-madder">
                , left <Money value={l.left} />
              </span>
            )}
          </>,
        ]),
        ...(sale.timing
          ? [
              [
                'Paid',
                <>
                  {sale.timing === 'at-sale' ? (
                    'at sale'
                  ) : (
                    <>
                      after hold, clears <Moment at={sale.clearsAt} />
                    </>
                  )}
                </>,
              ] as [string, React.ReactNode],
            ]
          : []),
        ...sale.downloads.map((d): [string, React.ReactNode] => [
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
            {sale.way === 'server' ? (
              'by the server'
            ) : (
              <span className="text-ochre">by the fallback picture alone, which nobody signed</span>
            )}
            {sale.otherWay && <span className="text-ochre"> · {sale.otherWay}</span>}
          </>,
        ],
      ]}
    />
  );
}

/** What its commission lived through, in the journal. */
function Life({ sale }: { sale: View }) {
  return (
    <>
      <h2 className="mt-4">In the journal</h2>
      <ul>
        {sale.life.map((e) => (
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
            <Money value={e.amount} />
          </DottedItem>
        ))}
      </ul>
    </>
  );
}

/** What the shop reported of it. */
function Reports({ sale }: { sale: View }) {
  return (
    <>
      <h2 className="mt-4">Reports</h2>
      <ul>
        {sale.reports.map((r) => (
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
