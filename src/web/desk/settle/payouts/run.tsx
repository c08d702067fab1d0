import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import {
  approveRun,
  excludePayee,
  listRunPayments,
  readRun,
  type RunOut,
} from '../../../../contract/settle/payouts';
import { formatMoney } from '../../../../core/money/amount';
import { paymentLabels, paymentStates } from '../../../../core/payouts/lists';
import { runStateWords } from '../../../../core/payouts/plan';
import { counted } from '../../../../core/text/counted';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { useAddress } from '../../../kit/address';
import { asking } from '../../../kit/asking';
import { Choice } from '../../../kit/choice';
import { useKeys, type Key } from '../../../kit/keys';
import { Column, Split } from '../../../kit/layout';
import { cursorKeys } from '../../../kit/list-keys';
import { under, useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading, Skeleton } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Day, Money } from '../../../kit/text';
import { useMay } from '../../roles';
import { SettleDialog } from './acts/settle';
import { StepDialog, type Step } from './acts/step';
import { useArrival } from './on-its-way';
import { canApprove, RunBar } from './run-bar';
import { payeeColumns } from './run-columns';
import { RunMargin } from './run-margin';

type PaymentState = (typeof paymentStates)[number];
const paymentChoices: readonly (readonly [PaymentState | '', string])[] = [
  ['', 'every payment'],
  ...paymentStates
    .filter((s) => s !== 'in-run')
    .map((s) => [s, `those that are ${paymentLabels[s]}`] as const),
];

/** One payout run: whom it pays, how far it is, and the next step. */
export default function RunPage({ id }: { id: Id<'run'> }) {
  const query = useQuery({
    ...asking(readRun, { params: { id } }),
    refetchInterval: ({ state }) => (state.data && state.data.done !== null ? 500 : false),
  });
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return <Run run={query.data} />;
}

/** Leaves a payee out of a draft, or takes it in again. */
function useExclude(run: RunOut) {
  const queries = useQueryClient();
  const act = useAct(excludePayee, {
    done: (r) => queries.setQueryData(asking(readRun, { params: { id: run.id } }).queryKey, r),
  });
  return (affiliate: Id<'affiliate'>, exclude: boolean) =>
    act.mutate({ params: { id: run.id }, body: { affiliate, exclude, version: run.version } });
}

function Run({ run }: { run: RunOut }) {
  const may = useMay();
  const pay = may(approveRun);
  const navigate = useNavigate();
  const [asking, setAsking] = useState<Step | null>(null);
  const [byHand, setByHand] = useState<{ id: Id<'payment'>; name: string } | null>(null);
  const address = useAddress();
  const exclude = useExclude(run);
  useArrival(run);
  const takeIn = pay ? (affiliate: Id<'affiliate'>) => exclude(affiliate, false) : null;
  const stepKeys: Key[] = [];
  if (pay && canApprove(run)) stepKeys.push({ key: 'a', what: 'approve', act: () => setAsking('approve') });
  if (pay && run.state === 'approved')
    stepKeys.push({ key: 's', what: 'send', act: () => setAsking('send') });
  return (
    <>
      <Split>
        <Column aria-label={`Run ${run.number}`}>
          <RunHead run={run} address={address} />
          <Payees
            run={run}
            address={address}
            acts={{
              pay,
              leaveOut: (affiliate) => exclude(affiliate, true),
              settle: setByHand,
            }}
            keys={[
              ...stepKeys,
              { key: 'Escape', what: 'back to the runs', act: () => void navigate('/payouts') },
            ]}
          />
        </Column>
        <RunMargin run={run} pay={pay} takeIn={takeIn} />
      </Split>
      {pay && <RunBar run={run} ask={setAsking} />}
      {asking && <StepDialog run={run} step={asking} onClose={() => setAsking(null)} />}
      {byHand && <SettleDialog run={run} payment={byHand} onClose={() => setByHand(null)} />}
    </>
  );
}

type Address = ReturnType<typeof useAddress>;

const stateIn = (address: Address) => paymentStates.find((s) => s === address.get('state')) ?? ('' as const);

function RunHead({ run, address }: { run: RunOut; address: Address }) {
  return (
    <Heading
      title={`Payout run ${run.number}`}
      acts={
        <>
          <SearchField label="Find a payee" />
          <State is={run.state} />
        </>
      }
    >
      cleared up to <Day at={run.cutoff - 1} />, from <Money value={run.minimum} /> on ·{' '}
      <b className="text-ink">
        {counted(run.payees, 'payment')}, {formatMoney(run.total)}
      </b>
      {run.sentAt && (
        <>
          {' '}
          ·{' '}
          <Choice
            label="State of payments"
            value={stateIn(address)}
            options={paymentChoices}
            onChange={(v) => address.set('state', v)}
          />
        </>
      )}
    </Heading>
  );
}

/** Whom the run pays. While a run is on its way to the next state there is no list to show. */
function Payees({
  run,
  address,
  acts,
  keys: others,
}: {
  run: RunOut;
  address: Address;
  acts: Parameters<typeof payeeColumns>[1];
  keys: Key[];
}) {
  const navigate = useNavigate();
  const q = address.get('q');
  const state = stateIn(address);
  const list = useList(under(listRunPayments, run.id), {
    ...(q ? { q } : {}),
    ...(state ? { state } : {}),
  });
  const cursor = useCursor(list.rows, (p) => p.affiliate);
  const leaveOut: Key = {
    key: 'x',
    what: 'leave this payee out',
    act: () => {
      if (cursor.row) acts.leaveOut(cursor.row.affiliate);
    },
  };
  const keys = useKeys([
    ...cursorKeys(cursor, 'payee', (p) => void navigate(`/affiliates/${p.affiliate}`)),
    ...(acts.pay && run.state === 'draft' ? [leaveOut] : []),
    ...others,
  ]);
  if (run.state === 'approving' || run.state === 'reopening')
    return (
      <div className="px-5">
        <Empty title={`This run is ${runStateWords[run.state]}`}>
          The payees are listed here when the last of them is through.
        </Empty>
        {keys}
      </div>
    );
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Table
        label="Payees"
        rows={list.rows}
        idOf={(p) => p.affiliate}
        at={cursor.at}
        onOpen={(p) => cursor.setAt(p.affiliate)}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={<Nobody asked={q !== '' || state !== ''} />}
        columns={payeeColumns(run, acts)}
      />
      {keys}
    </>
  );
}

function Nobody({ asked }: { asked: boolean }) {
  return asked ? (
    <Empty title="No payment here">Nothing in this run fits what is asked for.</Empty>
  ) : (
    <Empty title="Nobody can be paid">The margin says why each payee is left out.</Empty>
  );
}
