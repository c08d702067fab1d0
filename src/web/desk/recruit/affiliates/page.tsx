import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  giveUpBalance,
  moveAffiliate,
  readAffiliate,
  setTiming,
} from '../../../../contract/recruit/affiliates';
import { formatMoney, sumOf } from '../../../../core/money/amount';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Copy } from '../../../kit/copy';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { DottedItem } from '../../../kit/dotted';
import { useKeys } from '../../../kit/keys';
import { Labelled } from '../../../kit/labelled';
import { Bar, Facts, Failed, Margin, Skeleton } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Code, Day, Moment, Money, Share, Sums } from '../../../kit/text';
import { useMay } from '../../roles';
import { History } from './history';
import { MessageDialog } from './message';
import { PlacesOf } from './places';
import { ReferralOf } from './referral';
import { SortingOf, TrustOf } from './sorting';

type View = ReplyOf<typeof readAffiliate>;
type Move = 'active' | 'paused' | 'ended' | 'blocked';
const moves: Record<string, [Move, string, string][]> = {
  applied: [['blocked', 'Block', 'Applications of this person cannot be approved.']],
  active: [
    ['paused', 'Pause', 'Links go on leading buyers to the shop and earn nothing while paused.'],
    ['ended', 'End', 'Links earn nothing from now on; what is earned is still paid.'],
    ['blocked', 'Block', 'Links earn nothing, the portal is closed and nothing is paid.'],
  ],
  paused: [
    ['active', 'Resume', 'Links earn again from now on.'],
    ['ended', 'End', 'What is earned is still paid.'],
    ['blocked', 'Block', 'The portal is closed and nothing is paid.'],
  ],
  ended: [
    ['active', 'Take back', 'Links earn again from now on.'],
    ['blocked', 'Block', 'The portal is closed and nothing is paid.'],
  ],
  blocked: [['active', 'Unblock', 'Links earn again from now on.']],
};

export default function AffiliatePage() {
  const { id = '' } = useParams();
  const query = useQuery({
    queryKey: ['affiliate', id],
    queryFn: () => call(readAffiliate, { params: { id } }),
  });
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return <Page of={query.data} />;
}

function Commissions({ of }: { of: View }) {
  const navigate = useNavigate();
  if (!of.commissions.length) return <p className="mt-1 text-ink2">No commission yet.</p>;
  return (
    <table className="table">
      <thead>
        <tr>
          <th>Sold</th>
          <th>Order</th>
          <th>Product</th>
          <th className="figure">Value</th>
          <th className="figure">Commission</th>
          <th>State</th>
          <th className="figure">Clears</th>
        </tr>
      </thead>
      <tbody>
        {of.commissions.map((c) => (
          <tr key={c.id} data-open="" onClick={() => void navigate(`/sales/${c.order}`)}>
            <td>
              <Day at={c.soldAt} />
            </td>
            <td>
              <Link className="link" to={`/sales/${c.order}`} onClick={(e) => e.stopPropagation()}>
                <Code>{c.reference}</Code>
              </Link>
            </td>
            <td>
              {c.kind === 'commission' ? (
                c.product
              ) : (
                <>
                  {c.kind === 'referral' ? 'Referral share' : 'Co-owner share'},{' '}
                  <span className="text-ink3">{c.product}</span>
                </>
              )}
            </td>
            <td className="figure">
              <Money of={c.value} />
            </td>
            <td className="figure">
              <Money of={c.left} />
            </td>
            <td>
              <State is={c.state} />
            </td>
            <td className="figure">
              <Day at={c.clearsAt} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Page({ of }: { of: View }) {
  const may = useMay();
  const navigate = useNavigate();
  const [moving, setMoving] = useState<[Move, string, string] | null>(null);
  const [timing, askTiming] = useState(false);
  const [reason, setReason] = useState('');
  const move = useAct(moveAffiliate, {
    done: (a) => {
      setMoving(null);
      setReason('');
      toast(`${a.name} is ${a.state}`);
    },
  });
  const change = useAct(setTiming, {
    done: (a) => {
      askTiming(false);
      toast(`Paid ${a.timing === 'at-sale' ? 'at sale' : 'after hold'} from now on`);
    },
  });
  const [giving, setGiving] = useState(false);
  const give = useAct(giveUpBalance, {
    done: () => {
      setGiving(false);
      setReason('');
      toast('The negative balance is written off');
    },
  });
  const open = sumOf([of.balances.held, of.balances.cleared]);
  const negative = open.amount < 0;
  const [writing, setWriting] = useState(false);
  const keys = useKeys([
    {
      key: 'm',
      what: 'write to it',
      act: () => {
        if (may(moveAffiliate) && of.joinedAt !== null) setWriting(true);
      },
    },
    { key: 'Escape', what: 'back to the roster', act: () => void navigate('/affiliates') },
  ]);
  const other = of.timing === 'at-sale' ? ('after-hold' as const) : ('at-sale' as const);
  const { balances: b, figures: f } = of;
  return (
    <>
      <div className="flex min-h-0 flex-1">
        <section
          className="min-w-0 flex-1 overflow-auto bg-sheet px-5 py-4"
          tabIndex={0}
          aria-label={of.name}
        >
          <div className="flex items-start justify-between">
            <div>
              <h1 className="private">{of.name}</h1>
              <div className="text-ink2">
                <Code>{of.handle}</Code> · {of.country} ·{' '}
                {of.joinedAt ? (
                  <>
                    affiliate since <Day at={of.joinedAt} />
                  </>
                ) : (
                  <>
                    applied <Day at={of.createdAt} />
                  </>
                )}
              </div>
            </div>
            <State is={of.state} />
          </div>
          <Facts
            rows={[
              [
                'E-mail',
                <>
                  <span className="private">{of.email}</span>
                  {of.mailFault && <span className="text-madder"> · bounces: {of.mailFault}</span>}
                  {!of.newsletters && <span className="text-ink3"> · wants no letters</span>}
                </>,
              ],
              [
                'Sites',
                <span key="sites" className="private">
                  {of.sites.join(', ') || '—'}
                </span>,
              ],
              [
                'Address',
                <span key="address" className="private">
                  {of.address || '—'}
                </span>,
              ],
              ['Kind', <SortingOf key="kind" of={of} />],
              ['Trusted', <TrustOf key="trust" of={of} />],
              ...(of.policy
                ? [
                    [
                      'Policy',
                      of.policy.at === null ? (
                        <span key="policy" className="text-ochre">
                          has not accepted version {of.policy.number}
                        </span>
                      ) : (
                        <>
                          accepted version {of.policy.number} on <Day at={of.policy.at} />
                        </>
                      ),
                    ] as [string, React.ReactNode],
                  ]
                : []),
              ['Sorted', <PlacesOf key="places" id={of.id} name={of.name} />],
              ['Brought in', <ReferralOf key="referral" id={of.id} name={of.name} />],
              [
                'Paid',
                of.timing === 'at-sale'
                  ? 'at sale: at once'
                  : 'after hold: when the refund window has passed',
              ],
              [
                'Payout details',
                of.payout.complete ? (
                  <span className="private">
                    {of.payout.holder}, {of.payout.iban}
                  </span>
                ) : (
                  <span className="text-ochre">not entered yet</span>
                ),
              ],
            ]}
          />
          <h2 className="mt-4">
            Terms in force{' '}
            <Link className="link font-sans text-[13px] font-normal" to={`/rates?affiliates=${of.id}`}>
              in the rate book, with the working
            </Link>
          </h2>
          {of.terms.length === 0 ? (
            <p className="mt-1 text-ink2">Approved for nothing now.</p>
          ) : (
            <table className="table">
              <thead>
                <tr>
                  <th>Product</th>
                  <th className="figure">Earns</th>
                  <th>From</th>
                  <th>Paid</th>
                  <th>Tracking link</th>
                </tr>
              </thead>
              <tbody>
                {of.terms.map((t) => (
                  <tr key={t.product}>
                    <td>
                      {t.name} <Code>{t.code}</Code>
                    </td>
                    <td className="figure max-w-[140px] whitespace-normal!">
                      <span className="private font-semibold">{t.reward}</span>
                      {t.renewals && <span className="private block text-ink3">renewals {t.renewals}</span>}
                    </td>
                    <td className="text-ink2">
                      {t.rung || '—'}
                      {t.locked && <span className="block text-[12px]">locked</span>}
                      {t.raised && <span className="block text-[12px]">raised</span>}
                    </td>
                    <td className="text-ink2">{t.timing === 'at-sale' ? 'at sale' : 'after hold'}</td>
                    <td>
                      {t.link ? (
                        <>
                          <Code>{t.link.replace(/^https?:\/\//, '')}</Code> <Copy text={t.link} />
                        </>
                      ) : (
                        '—'
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <h2 className="mt-5">Last commissions</h2>
          <Commissions of={of} />
          <h2 className="mt-5">Applications</h2>
          {of.applications.length === 0 ? (
            <p className="mt-1 text-ink2">Never applied here.</p>
          ) : (
            <ul>
              {of.applications.map((a) => (
                <DottedItem key={a.id} className="flex justify-between">
                  <Link className="link" to={`/applications/${a.id}?state=${a.state}`}>
                    <Day at={a.at} /> · {a.product ?? 'whole programme'}
                  </Link>
                  <State is={a.state} />
                </DottedItem>
              ))}
            </ul>
          )}
          <h2 className="mt-5">History</h2>
          <History of={of} />
          <h2 className="mt-5">Messages</h2>
          {of.messages.length === 0 ? (
            <p className="mt-1 text-ink2">None yet.</p>
          ) : (
            <ul>
              {of.messages.map((m) => (
                <DottedItem key={m.id}>
                  <details>
                    <summary className="grid cursor-pointer grid-cols-[130px_1fr_auto] gap-2">
                      <span className="text-ink3">
                        <Moment at={m.at} />
                      </span>
                      <span className="private">{m.subject}</span>
                      <State is={m.state} />
                    </summary>
                    {m.fault && <p className="text-madder">{m.fault}</p>}
                    <p
                      dir="auto"
                      className="private ml-[138px] max-w-[66ch] py-1 font-serif whitespace-pre-wrap text-ink2"
                    >
                      {m.body}
                    </p>
                  </details>
                </DottedItem>
              ))}
            </ul>
          )}
        </section>
        <Margin>
          <h2>Balance</h2>
          <div className="mt-1">
            <Sums
              rows={[
                { label: 'Held', figure: <Money of={b.held} /> },
                { label: 'Cleared', figure: <Money of={b.cleared} /> },
                { label: 'In a payout run', figure: <Money of={b.inRun} /> },
                { label: 'Owed', figure: <Money of={sumOf([b.held, b.cleared, b.inRun])} />, weight: 'sum' },
                { label: 'Paid out so far', figure: <Money of={b.paid} /> },
                { label: 'Exposure', figure: <Money of={b.exposure} /> },
              ]}
            />
          </div>
          <h2 className="mt-5">Figures</h2>
          <div className="mt-1">
            <Sums
              rows={[
                { label: 'Clicks', figure: f.clicks.toLocaleString('en-GB') },
                { label: 'Orders', figure: f.orders },
                { label: 'Conversion, orders ÷ clicks', figure: <Share ppm={f.conversion} /> },
                {
                  label: 'Commission per 100 clicks',
                  figure: f.epc === null ? '—' : <Money of={{ amount: f.epc, currency: b.held.currency }} />,
                },
                { label: 'Refunds', figure: f.refunds },
                { label: 'Share reversed', figure: <Share ppm={f.shareReversed} /> },
              ]}
            />
          </div>
          <p className="mt-4">
            <Link className="link" to={`/sales?affiliate=${of.id}`}>
              All sales
            </Link>{' '}
            ·{' '}
            <Link className="link" to={`/ledger?affiliate=${of.id}`}>
              journal
            </Link>{' '}
            ·{' '}
            <a className="link" href={`/as/${of.id}`}>
              as they see it
            </a>
            {of.prospect && (
              <>
                {' '}
                ·{' '}
                <Link className="link" to={`/prospects/${of.prospect}`}>
                  at the registry
                </Link>
              </>
            )}
          </p>
        </Margin>
      </div>
      {(may(moveAffiliate) || (negative && may(giveUpBalance))) && (
        <Bar>
          {negative && may(giveUpBalance) && (
            <Button onClick={() => setGiving(true)}>Give up the negative balance</Button>
          )}
          {may(moveAffiliate) && of.joinedAt !== null && (
            <Button keyName="M" onClick={() => setWriting(true)}>
              Write
            </Button>
          )}
          {may(moveAffiliate) && (
            <>
              {of.joinedAt !== null && (
                <Button onClick={() => askTiming(true)}>
                  Pay {other === 'at-sale' ? 'at sale' : 'after hold'} instead
                </Button>
              )}
              {(moves[of.state] ?? [])
                .filter(([to]) => to !== 'active' || of.joinedAt !== null)
                .map((m) => (
                  <Button
                    key={m[0]}
                    look={m[0] === 'blocked' ? 'danger' : 'quiet'}
                    onClick={() => setMoving(m)}
                  >
                    {m[1]}
                  </Button>
                ))}
            </>
          )}
        </Bar>
      )}
      {writing && <MessageDialog whom={{ ids: [of.id] }} onClose={() => setWriting(false)} />}
      <Dialog
        open={giving}
        onClose={() => setGiving(false)}
        title={`Give up ${formatMoney({ ...open, amount: Math.abs(open.amount) })}`}
        about={`What ${of.name} owes after refunds is written off and not netted any more. This cannot be taken back.`}
      >
        <form
          onSubmit={(e) => {
            e.preventDefault();
            give.mutate({ params: { id: of.id }, body: { reason } });
          }}
        >
          <textarea
            aria-label="Reason"
            autoFocus
            rows={2}
            minLength={3}
            maxLength={500}
            required
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            placeholder="Left the programme; too small to ask for"
            className="w-full rounded-sm border border-rule px-2 py-1"
          />
          <DialogFoot>
            <Button onClick={() => setGiving(false)}>Leave it</Button>
            <Button type="submit" look="danger" busy={give.isPending}>
              Give it up
            </Button>
          </DialogFoot>
        </form>
      </Dialog>
      <Dialog
        open={moving !== null}
        onClose={() => setMoving(null)}
        title={`${moving?.[1] ?? ''} ${of.name}`}
        about={moving?.[2]}
      >
        <form
          onSubmit={(e) => {
            e.preventDefault();
            if (moving)
              move.mutate({ params: { id: of.id }, body: { state: moving[0], reason, version: of.version } });
          }}
        >
          <Labelled>
            Reason{moving?.[0] === 'blocked' ? '' : ', if you wish'}
            <textarea
              rows={2}
              maxLength={500}
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              className="mt-1 w-full rounded-sm border border-rule px-2 py-1 font-normal text-ink"
            />
          </Labelled>
          <DialogFoot>
            <Button onClick={() => setMoving(null)}>Leave it</Button>
            <Button type="submit" look={moving?.[0] === 'blocked' ? 'danger' : 'main'} busy={move.isPending}>
              {moving?.[1]}
            </Button>
          </DialogFoot>
        </form>
      </Dialog>
      <Dialog
        open={timing}
        onClose={() => askTiming(false)}
        title="Change the payment timing"
        about="From now on, for everything this affiliate is approved for. Commissions that exist keep theirs."
      >
        <Sums
          rows={[
            { label: 'Before', figure: of.timing === 'at-sale' ? 'at sale' : 'after hold' },
            { label: 'After', figure: other === 'at-sale' ? 'at sale' : 'after hold', weight: 'sum' },
          ]}
        />
        <DialogFoot>
          <Button onClick={() => askTiming(false)}>Leave it</Button>
          <Button
            look="main"
            busy={change.isPending}
            onClick={() =>
              change.mutate({ params: { id: of.id }, body: { timing: other, version: of.version } })
            }
          >
            Pay {other === 'at-sale' ? 'at sale' : 'after hold'}
          </Button>
        </DialogFoot>
      </Dialog>
      {keys}
    </>
  );
}
