import { Link } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { statement, type listRunPayments, type RunOut } from '../../../../contract/settle/payouts';
import { paymentLabels } from '../../../../core/payouts/lists';
import type { Id } from '../../../../core/text/id';
import { addressOf } from '../../../kit/api';
import { State } from '../../../kit/state';
import { type Column } from '../../../kit/table';
import { Code, Money } from '../../../kit/text';

export type Payee = ReplyOf<typeof listRunPayments>['rows'][number];

/** What can be done with one payee of a run. */
export interface PayeeActs {
  pay: boolean;
  leaveOut: (affiliate: Id<'affiliate'>) => void;
  settle: (payment: { id: Id<'payment'>; name: string }) => void;
}

/** The payees of a run: who, where to, how much, how far. */
export const payeeColumns = (run: RunOut, acts: PayeeActs): Column<Payee>[] => [
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
  { head: 'Amount', cell: (p) => <Money value={p.amount} strong />, figure: true, width: '110px' },
  {
    head: 'State',
    cell: (p) => (
      <span title={p.reason ?? ''}>
        <State is={p.state} word={paymentLabels[p.state]} />
        {p.reason && <span className="text-ink3"> {p.reason}</span>}
      </span>
    ),
    width: '210px',
  },
  { head: '', width: '110px', cell: (p) => <PayeeAct payee={p} run={run} {...acts} /> },
];

function PayeeAct({ payee, run, pay, leaveOut, settle }: { payee: Payee; run: RunOut } & PayeeActs) {
  const { id, name } = payee;
  if (run.state === 'draft' && pay)
    return (
      <button type="button" className="link" onClick={() => leaveOut(payee.affiliate)}>
        leave out
      </button>
    );
  if (!id || !run.sentAt) return null;
  return (
    <>
      <a className="link" href={addressOf(statement, { id })} download>
        statement
      </a>
      {payee.state === 'sent' && pay && (
        <>
          {' '}
          ·{' '}
          <button type="button" className="link" onClick={() => settle({ id, name })}>
            settle
          </button>
        </>
      )}
    </>
  );
}
