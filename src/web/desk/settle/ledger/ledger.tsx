import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { clearCommissions } from '../../../../contract/settle/commissions';
import { listCommissions, listEntries, readBalances } from '../../../../contract/settle/ledger';
import { entryEvents, type EntryEvent } from '../../../../core/ledger/entry';
import { sumOf } from '../../../../core/money/amount';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { useAddress } from '../../../kit/address';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { Column, Split } from '../../../kit/layout';
import { useList } from '../../../kit/lists';
import { Said } from '../../../kit/note';
import { Bar, Empty, Failed, Heading, Margin } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Day, Moment, Money, Sums } from '../../../kit/text';
import { useMay } from '../../roles';
import { accountWords, eventNames, eventWords } from '../../shared/ledger-words';

/** The journal with the balances of its accounts, or the commissions that wait to be cleared by a person. */
export default function Ledger() {
  const { get, id, set } = useAddress();
  const balances = useQuery(asking(readBalances));
  const due = get('due') === '1';
  return (
    <Split>
      <Column aria-label="Ledger">
        {due ? (
          <Due />
        ) : (
          <Journal
            affiliate={id('affiliate', 'affiliate')}
            event={entryEvents.find((e) => e === get('event')) ?? ''}
            set={set}
          />
        )}
      </Column>
      <Margin>
        <h2>Accounts</h2>
        {balances.data && (
          <>
            <div className="mt-1">
              <Sums
                rows={balances.data.accounts.map((a) => ({
                  label: accountWords(a.account),
                  figure: <Money value={a.balance} />,
                }))}
              />
            </div>
            <Said gap={2}>
              {balances.data.whole ? (
                <State is="settled" word="Debits and credits are equal" />
              ) : (
                <State is="failed" word="Debits and credits differ" />
              )}
            </Said>
            <Said gap={2} faint>
              Expense and what was written off are debits; the rest are credits. Expense = held + cleared + in
              a run + bank − written off.
            </Said>
            <h2 className="mt-5">Age of what is cleared</h2>
            <div className="mt-1">
              <Sums
                rows={[
                  { label: 'Older than 75 days', figure: <Money value={balances.data.aged.past75} /> },
                  {
                    label: 'Older than 90 days, overdue',
                    figure: <Money value={balances.data.aged.past90} />,
                  },
                ]}
              />
            </div>
            <h2 className="mt-5">At risk</h2>
            <div className="mt-1">
              <Sums
                rows={[
                  { label: 'Negative balances', figure: <Money value={balances.data.negative} /> },
                  { label: 'Exposure', figure: <Money value={balances.data.exposure} /> },
                ]}
              />
            </div>
          </>
        )}
        {balances.error && <Failed fault={balances.error} />}
        <p className="mt-5">
          {due ? (
            <Link className="link" to="/ledger">
              The journal
            </Link>
          ) : (
            <Link className="link" to="/ledger?due=1">
              Commissions to clear by hand
            </Link>
          )}
        </p>
      </Margin>
    </Split>
  );
}

function Journal({
  affiliate,
  event,
  set,
}: {
  affiliate: Id<'affiliate'> | null;
  event: EntryEvent | '';
  set: (key: string, value: string) => void;
}) {
  const list = useList(listEntries, { ...(affiliate ? { affiliate } : {}), ...(event ? { event } : {}) });
  const flat = list.rows.flatMap((e) =>
    e.lines.map((l, i) => ({ ...l, entry: e, first: i === 0, key: `${e.id}-${i}` })),
  );
  const name = affiliate ? (flat.find((l) => l.affiliate)?.affiliate ?? 'one affiliate') : '';
  return (
    <>
      <Heading title="Ledger">
        <Choice
          label="Event"
          value={event}
          options={[['', 'Every entry'], ...eventNames.map((e) => [e, eventWords(e)] as const)]}
          onChange={(v) => set('event', v)}
        />
        {name && (
          <>
            {' '}
            of{' '}
            <button type="button" className="link" onClick={() => set('affiliate', '')}>
              {name} ×
            </button>
          </>
        )}
        , newest first; nothing here is ever changed or removed
      </Heading>
      {list.failed ? (
        <Failed fault={list.failed} retry={list.again} />
      ) : (
        <Table
          label="Journal"
          rows={flat}
          idOf={(l) => l.key}
          onEnd={list.onEnd}
          loading={list.loading}
          empty={<Empty title="No entry yet">The first commission writes the first entry.</Empty>}
          columns={[
            { head: 'When', cell: (l) => (l.first ? <Moment at={l.entry.at} /> : ''), width: '145px' },
            {
              head: 'Event',
              cell: (l) => (l.first ? <b className="font-semibold">{eventWords(l.entry.event)}</b> : ''),
              width: '170px',
            },
            {
              head: 'About',
              cell: (l) =>
                l.first ? (
                  l.entry.order ? (
                    <Link className="link" to={`/sales/${l.entry.order}`}>
                      {l.entry.memo}
                    </Link>
                  ) : l.entry.run ? (
                    <Link className="link" to={`/payouts/${l.entry.run}`}>
                      {l.entry.memo}
                    </Link>
                  ) : (
                    l.entry.memo
                  )
                ) : (
                  ''
                ),
            },
            {
              head: 'Account',
              cell: (l) => (
                <span className={l.credit ? 'pl-4' : ''}>
                  {accountWords(l.account)}
                  {l.affiliate && <span className="private text-ink3"> · {l.affiliate}</span>}
                </span>
              ),
              width: '220px',
            },
            {
              head: 'Debit',
              cell: (l) => (l.debit ? <Money value={l.debit} /> : ''),
              figure: true,
              width: '85px',
            },
            {
              head: 'Credit',
              cell: (l) => (l.credit ? <Money value={l.credit} /> : ''),
              figure: true,
              width: '85px',
            },
          ]}
        />
      )}
    </>
  );
}

function Due() {
  const list = useList(listCommissions, { due: true }, 500);
  const may = useMay();
  const clear = useAct(clearCommissions, {
    done: (r) => toast(`${r.cleared} cleared${r.passed.length ? `, ${r.passed.length} passed over` : ''}`),
  });
  return (
    <>
      <Heading title="To clear">
        Held commissions whose clearing date has come. They clear by themselves unless Settings say that a
        person does it.
      </Heading>
      {list.failed ? (
        <Failed fault={list.failed} />
      ) : (
        <Table
          label="Commissions to clear"
          rows={list.rows}
          idOf={(r) => r.id}
          onEnd={list.onEnd}
          loading={list.loading}
          empty={<Empty title="Nothing is due">Held commissions appear here on their clearing date.</Empty>}
          columns={[
            {
              head: 'Order',
              cell: (r) => (
                <Link className="link" to={`/sales/${r.order}`}>
                  <Code>{r.reference}</Code>
                </Link>
              ),
              width: '110px',
            },
            { head: 'Affiliate', cell: (r) => <span className="private">{r.affiliateName}</span> },
            { head: 'Product', cell: (r) => r.product },
            { head: 'Due since', cell: (r) => <Day at={r.clearsAt} />, width: '120px' },
            { head: 'Commission', cell: (r) => <Money value={r.left} />, figure: true, width: '110px' },
          ]}
        />
      )}
      {list.rows.length > 0 && may(clearCommissions) && (
        <Bar>
          <Button
            look="main"
            busy={clear.isPending}
            onClick={() => clear.mutate({ body: { ids: list.rows.map((r) => r.id) } })}
          >
            Clear {list.rows.length}
          </Button>
          <span className="text-ink2">
            <Money value={sumOf(list.rows.map((r) => r.left))} /> in all
          </span>
        </Bar>
      )}
    </>
  );
}
