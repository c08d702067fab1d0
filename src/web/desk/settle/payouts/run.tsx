import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  approveRun,
  deliverRun,
  discardRun,
  excludePayee,
  listRunPayments,
  paymentStates,
  readRun,
  reopenRun,
  runCsv,
  runXml,
  sendRun,
  settleByHand,
  statement,
  type RunOut,
} from '../../../../contract/settle/payouts';
import { formatMoney } from '../../../../core/money/amount';
import { runStateWords } from '../../../../core/payouts/plan';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { addressOf, call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { useKeys } from '../../../kit/keys';
import { under, useCursor, useList } from '../../../kit/lists';
import { Bar, Empty, Failed, Heading, Margin, Skeleton } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Day, Moment, Money, Sums } from '../../../kit/text';
import { useMay } from '../../roles';
import { LeftOut } from './left-out';
import { StatusButtons } from './list';
import { arrivals, OnItsWay, useArrival } from './on-its-way';

type PaymentState = (typeof paymentStates)[number];
const paymentChoices: readonly (readonly [PaymentState | '', string])[] = [
  ['', 'every payment'],
  ...paymentStates.filter((s) => s !== 'in-run').map((s) => [s, `those that are ${s}`] as const),
];

type Step = 'approve' | 'send' | 'discard' | 'reopen';

export default function RunPage() {
  const { id = '' } = useParams();
  const query = useQuery({
    queryKey: ['run', id],
    queryFn: () => call(readRun, { params: { id } }),
    refetchInterval: ({ state }) => (state.data && state.data.done !== null ? 500 : false),
  });
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return <Run run={query.data} />;
}

function Run({ run }: { run: RunOut }) {
  const may = useMay();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [asking, setAsking] = useState<Step | null>(null);
  const [byHand, setByHand] = useState<{ id: string; name: string } | null>(null);
  const [reference, setReference] = useState('');
  const [params, setParams] = useSearchParams();
  const q = params.get('q') ?? '';
  const state = (params.get('state') ?? '') as PaymentState | '';
  const list = useList(under(listRunPayments, run.id), { ...(q ? { q } : {}), ...(state ? { state } : {}) });
  const cursor = useCursor(list.rows, (p) => p.affiliate);
  useArrival(run);
  const close = (said: string) => {
    setAsking(null);
    toast(said);
  };
  const keep = (done: RunOut) => queries.setQueryData(['run', run.id], done);
  // what is through at once is said at once, the rest when it has arrived
  const stepped = (r: RunOut) => {
    keep(r);
    setAsking(null);
    if (r.done === null) toast(arrivals[r.state] ?? '');
  };
  const approve = useAct(approveRun, { done: stepped });
  const send = useAct(sendRun, { done: stepped });
  const discard = useAct(discardRun, {
    done: () => {
      close('Discarded');
      void navigate('/payouts');
    },
  });
  const reopen = useAct(reopenRun, { done: stepped });
  const deliver = useAct(deliverRun, {
    done: (r) => {
      keep(r);
      toast('The bank has the file');
    },
  });
  const exclude = useAct(excludePayee, { done: keep });
  const settle = useAct(settleByHand, {
    done: (r) => {
      keep(r);
      setByHand(null);
      setReference('');
      toast('Settled by hand');
    },
  });
  const pay = may(approveRun);
  const total = formatMoney(run.total);
  const payees = counted(run.payees, 'payment');
  const canApprove = pay && run.state === 'draft' && run.payees > 0 && run.needsSecond === null;
  const keys = useKeys([
    { key: 'j', what: 'next payee', act: () => cursor.move(1) },
    { key: 'k', what: 'payee before', act: () => cursor.move(-1) },
    {
      key: 'Enter',
      what: 'open the affiliate',
      act: () => {
        if (cursor.row) void navigate(`/affiliates/${cursor.row.affiliate}`);
      },
    },
    ...(canApprove ? [{ key: 'a', what: 'approve', act: () => setAsking('approve') }] : []),
    ...(pay && run.state === 'approved' ? [{ key: 's', what: 'send', act: () => setAsking('send') }] : []),
    ...(pay && run.state === 'draft'
      ? [
          {
            key: 'x',
            what: 'leave this payee out',
            act: () => {
              if (cursor.row)
                exclude.mutate({
                  params: { id: run.id },
                  body: { affiliate: cursor.row.affiliate, exclude: true, version: run.version },
                });
            },
          },
        ]
      : []),
    { key: 'Escape', what: 'back to the runs', act: () => void navigate('/payouts') },
  ]);
  const act = (step: Step) => {
    const given = { params: { id: run.id }, body: { version: run.version } };
    if (step === 'approve') approve.mutate({ ...given, body: { ...given.body, total: run.total.amount } });
    else ({ send, discard, reopen })[step].mutate(given);
  };
  const busy = approve.isPending || send.isPending || discard.isPending || reopen.isPending;
  const titles: Record<Step, string> = {
    approve: `Approve ${payees}, ${total}`,
    send: `Send ${payees}, ${total}`,
    discard: `Discard run ${run.number}`,
    reopen: `Take run ${run.number} back to draft`,
  };
  const abouts: Record<Step, string> = {
    approve:
      'The amounts are fixed and leave the cleared balances. It can still be taken back before it is sent.',
    send: 'The payment file is written, once, and each payee is told with the date promised. This cannot be taken back.',
    discard: 'Nothing has moved; the balances stay cleared.',
    reopen: 'The amounts return to the cleared balances.',
  };
  return (
    <>
      <div className="flex min-h-0 flex-1">
        <section className="flex min-w-0 flex-1 flex-col" aria-label={`Run ${run.number}`}>
          <Heading
            title={`Payout run ${run.number}`}
            acts={
              <>
                <SearchField label="Find a payee" />
                <State is={run.state} />
              </>
            }
          >
            cleared up to <Day at={run.cutoff - 1} />, from <Money of={run.minimum} /> on ·{' '}
            <b className="text-ink">
              {payees}, {total}
            </b>
            {run.sentAt && (
              <>
                {' '}
                ·{' '}
                <Choice
                  label="State of payments"
                  value={state}
                  options={paymentChoices}
                  onChange={(v) =>
                    setParams((p) => {
                      const next = new URLSearchParams(p);
                      if (v) next.set('state', v);
                      else next.delete('state');
                      return next;
                    })
                  }
                />
              </>
            )}
          </Heading>
          {run.state === 'approving' || run.state === 'reopening' ? (
            <div className="px-5">
              <Empty title={`This run is ${runStateWords[run.state]}`}>
                The payees are listed here when the last of them is through.
              </Empty>
            </div>
          ) : list.failed ? (
            <Failed fault={list.failed} retry={list.again} />
          ) : (
            <Table
              label="Payees"
              rows={list.rows}
              idOf={(p) => p.affiliate}
              at={cursor.at}
              onOpen={(p) => cursor.setAt(p.affiliate)}
              onEnd={list.onEnd}
              loading={list.loading}
              empty={
                q || state ? (
                  <Empty title="No payment here">Nothing in this run fits what is asked for.</Empty>
                ) : (
                  <Empty title="Nobody can be paid">The margin says why each payee is left out.</Empty>
                )
              }
              columns={[
                {
                  head: 'Payee',
                  cell: (p) => (
                    <Link className="font-semibold hover:text-copper" to={`/affiliates/${p.affiliate}`}>
                      {p.name}
                    </Link>
                  ),
                },
                {
                  head: 'Account',
                  cell: (p) => (
                    <span className="private text-ink2">
                      {p.holder !== p.name ? `${p.holder}, ` : ''}
                      <Code>{p.iban}</Code>
                    </span>
                  ),
                },
                { head: 'Commissions', cell: (p) => p.items, figure: true, width: '110px' },
                { head: 'Amount', cell: (p) => <Money of={p.amount} strong />, figure: true, width: '110px' },
                {
                  head: 'State',
                  cell: (p) => (
                    <span title={p.reason ?? ''}>
                      <State is={p.state} />
                      {p.reason && <span className="text-ink3"> {p.reason}</span>}
                    </span>
                  ),
                  width: '210px',
                },
                {
                  head: '',
                  width: '110px',
                  cell: (p) =>
                    run.state === 'draft' && pay ? (
                      <button
                        type="button"
                        className="link"
                        onClick={() =>
                          exclude.mutate({
                            params: { id: run.id },
                            body: { affiliate: p.affiliate, exclude: true, version: run.version },
                          })
                        }
                      >
                        leave out
                      </button>
                    ) : p.id && run.sentAt ? (
                      <>
                        <a className="link" href={addressOf(statement, { id: p.id })} download>
                          statement
                        </a>
                        {p.state === 'sent' && pay && (
                          <>
                            {' '}
                            ·{' '}
                            <button
                              type="button"
                              className="link"
                              onClick={() => setByHand({ id: p.id!, name: p.name })}
                            >
                              settle
                            </button>
                          </>
                        )}
                      </>
                    ) : null,
                },
              ]}
            />
          )}
        </section>
        <Margin>
          <h2>This run</h2>
          <div className="mt-1">
            <Sums
              rows={[
                {
                  label: 'Drafted',
                  figure: (
                    <>
                      <Moment at={run.createdAt} />
                      <br />
                      <span className="text-ink3">{run.createdBy}</span>
                    </>
                  ),
                },
                ...(run.approvedBy ? [{ label: 'Approved', figure: run.approvedBy }] : []),
                ...(run.sentAt
                  ? [
                      {
                        label: 'Sent',
                        figure: (
                          <>
                            <Moment at={run.sentAt} />
                            <br />
                            <span className="text-ink3">{run.sentBy}</span>
                          </>
                        ),
                      },
                      {
                        label: 'Promised by',
                        figure: (
                          <span className={run.overdue ? 'text-madder' : ''}>
                            <Day at={run.promisedAt} />
                          </span>
                        ),
                      },
                    ]
                  : []),
                ...(run.deliveredAt
                  ? [{ label: 'With the bank since', figure: <Day at={run.deliveredAt} /> }]
                  : []),
                { label: payees, figure: total, weight: 'sum' as const },
              ]}
            />
          </div>
          {run.sentAt && run.state !== 'sending' && pay && (
            <p className="mt-3">
              The file:{' '}
              <a className="link" href={addressOf(runXml, { id: run.id })} download>
                pain.001
              </a>{' '}
              ·{' '}
              <a className="link" href={addressOf(runCsv, { id: run.id })} download>
                CSV
              </a>
            </p>
          )}
          {run.leftOutSums.length > 0 && (
            <LeftOut
              run={run}
              takeIn={
                pay
                  ? (affiliate) =>
                      exclude.mutate({
                        params: { id: run.id },
                        body: { affiliate, exclude: false, version: run.version },
                      })
                  : null
              }
            />
          )}
        </Margin>
      </div>
      {pay && (
        <Bar>
          {run.state === 'draft' && (
            <>
              <Button look="main" keyName="A" disabled={!canApprove} onClick={() => setAsking('approve')}>
                Approve {payees}, {total}
              </Button>
              <Button onClick={() => setAsking('discard')}>Discard</Button>
              {run.needsSecond && <span className="text-ochre">{run.needsSecond}</span>}
              {run.notApproved && <span className="text-madder">Not approved. {run.notApproved}</span>}
            </>
          )}
          {run.done !== null && <OnItsWay run={run} />}
          {run.state === 'approving' && <Button onClick={() => setAsking('reopen')}>Back to draft</Button>}
          {run.state === 'approved' && (
            <>
              <Button look="main" keyName="S" onClick={() => setAsking('send')}>
                Send {payees}, {total}
              </Button>
              <Button onClick={() => setAsking('reopen')}>Back to draft</Button>
            </>
          )}
          {run.state === 'sent' && (
            <>
              {run.bank && (
                <Button
                  look={run.deliveredAt ? 'quiet' : 'main'}
                  busy={deliver.isPending}
                  onClick={() => deliver.mutate({ params: { id: run.id }, body: { version: run.version } })}
                >
                  {run.deliveredAt ? 'Hand over again' : 'Hand to the bank'}
                </Button>
              )}
              <StatusButtons />
            </>
          )}
          {run.state === 'settled' && <span className="text-ink2">Every payment of this run is final.</span>}
        </Bar>
      )}
      <Dialog
        open={asking !== null}
        onClose={() => setAsking(null)}
        title={asking ? titles[asking] : ''}
        about={asking ? abouts[asking] : ''}
      >
        <DialogFoot>
          <Button onClick={() => setAsking(null)}>Leave it</Button>
          <Button look="main" busy={busy} onClick={() => asking && act(asking)}>
            {asking ? titles[asking] : ''}
          </Button>
        </DialogFoot>
      </Dialog>
      <Dialog
        open={byHand !== null}
        onClose={() => setByHand(null)}
        title={`Settle the payment to ${byHand?.name ?? ''}`}
        about="For a payment that you see carried out at the bank, with the bank’s own reference."
      >
        <form
          onSubmit={(e) => {
            e.preventDefault();
            if (byHand) settle.mutate({ params: { id: byHand.id }, body: { reference } });
          }}
        >
          <input
            aria-label="Bank reference"
            autoFocus
            required
            minLength={3}
            maxLength={100}
            value={reference}
            onChange={(e) => setReference(e.target.value)}
            placeholder="BK-2027-0312-7"
            className="w-full rounded-sm border border-rule px-2 py-1"
          />
          <DialogFoot>
            <Button onClick={() => setByHand(null)}>Leave it</Button>
            <Button type="submit" look="main" busy={settle.isPending}>
              Settle
            </Button>
          </DialogFoot>
        </form>
      </Dialog>
      {keys}
    </>
  );
}
