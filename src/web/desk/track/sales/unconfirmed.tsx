import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  confirmUnconfirmed,
  listUnconfirmed,
  setUnconfirmedAside,
} from '../../../../contract/track/unconfirmed';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot, SubmitFoot } from '../../../kit/dialog';
import { useKeys } from '../../../kit/keys';
import { Labelled } from '../../../kit/labelled';
import { useCursor, useList } from '../../../kit/lists';
import { Note } from '../../../kit/note';
import { Empty, Failed } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Table, type Column } from '../../../kit/table';
import { Code, Moment, Money } from '../../../kit/text';
import { useMay } from '../../roles';

type Row = ReplyOf<typeof listUnconfirmed>['rows'][number];
/** A state, or those that have been open for a week. */
export type PicturedState = Row['state'] | 'old';

/** What is said of each, whoever may decide. */
const shownOf = (state: Row['state']): Column<Row>[] => [
  { head: 'Seen', cell: (r) => <Moment at={r.at} />, width: '150px' },
  {
    head: 'Order',
    cell: (r) =>
      r.order ? (
        <Link className="link" to={`/sales/${r.order}`}>
          <Code>{r.reference}</Code>
        </Link>
      ) : (
        <Code>{r.reference}</Code>
      ),
    width: '110px',
  },
  {
    head: 'Product',
    cell: (r) => (
      <>
        {r.product}
        {r.signed && <span className="text-ink3"> payment {r.payment}</span>}
      </>
    ),
  },
  {
    head: 'Would be credited',
    cell: (r) => <span className={r.affiliate ? 'private' : 'text-ink3'}>{r.affiliate ?? 'nobody'}</span>,
  },
  { head: 'Value', cell: (r) => <Money value={r.value} />, figure: true, width: '100px' },
  {
    head: 'What does not fit',
    cell: (r) =>
      state === 'set-aside' ? (
        <span title={r.note}>{r.note}</span>
      ) : r.misfit ? (
        <span className="private text-ochre" title={r.misfit}>
          {r.misfit}
        </span>
      ) : (
        <span className="text-ink3">price fits</span>
      ),
  },
];

/** Sales known by a picture alone, and payments that were not agreed: what each says, what does not fit, and a person's word on it. */
export function Unconfirmed({ state: asked }: { state: PicturedState }) {
  const may = useMay();
  const state = asked === 'old' ? 'open' : asked;
  const list = useList(listUnconfirmed, { state, ...(asked === 'old' ? { old: true } : {}) });
  const cursor = useCursor(list.rows, (r) => r.id);
  const [deciding, setDeciding] = useState<{ what: 'confirm' | 'aside'; row: Row } | null>(null);
  const decides = may(confirmUnconfirmed) && state === 'open';
  const ask = (what: 'confirm' | 'aside') => {
    if (decides && cursor.row) setDeciding({ what, row: cursor.row });
  };
  const keys = useKeys([
    { key: 'j', what: 'next', act: () => cursor.move(1) },
    { key: 'k', what: 'one before', act: () => cursor.move(-1) },
    ...(decides
      ? [
          { key: 'a', what: 'confirm: the sale happened', act: () => ask('confirm') },
          { key: 'd', what: 'set aside: it did not', act: () => ask('aside') },
        ]
      : []),
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <p className="border-b border-rule px-5 pb-2 text-ink2">
        Only a picture reported these, and anybody can load a picture; or they are further payments that do
        not fit what was agreed. They earn nobody anything, take no stock and are in no figure until a person
        confirms them, or the signed report of a picture’s sale comes.
      </p>
      <Table
        label="Unconfirmed sales"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={(r) => {
          cursor.setAt(r.id);
          if (decides) setDeciding({ what: 'confirm', row: r });
        }}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          <Empty title={state === 'open' ? 'No sale is unconfirmed' : 'None'}>
            Sales that only a fallback picture reported, and payments that were not agreed, wait here.
          </Empty>
        }
        columns={[
          ...shownOf(state),
          ...(decides
            ? [
                {
                  head: '',
                  width: '170px',
                  cell: (r: Row) => (
                    <span className="flex gap-1">
                      <Button
                        look="bare"
                        aria-label={`Confirm ${r.reference}`}
                        onClick={(e) => {
                          e.stopPropagation();
                          setDeciding({ what: 'confirm', row: r });
                        }}
                      >
                        Confirm <kbd>A</kbd>
                      </Button>
                      <Button
                        look="bare"
                        aria-label={`Set ${r.reference} aside`}
                        onClick={(e) => {
                          e.stopPropagation();
                          setDeciding({ what: 'aside', row: r });
                        }}
                      >
                        Set aside <kbd>D</kbd>
                      </Button>
                    </span>
                  ),
                },
              ]
            : [{ head: 'State', width: '120px', cell: (r: Row) => <State is={r.state} /> }]),
        ]}
      />
      {deciding?.what === 'confirm' && <Confirming row={deciding.row} onClose={() => setDeciding(null)} />}
      {deciding?.what === 'aside' && <SettingAside row={deciding.row} onClose={() => setDeciding(null)} />}
      {keys}
    </>
  );
}

function Confirming({ row, onClose }: { row: Row; onClose: () => void }) {
  const confirm = useAct(confirmUnconfirmed, {
    done: () => {
      onClose();
      toast(
        row.signed
          ? `Payment ${row.payment} is recorded`
          : `${row.reference} is a sale; its commission is held until its clearing date`,
      );
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Confirm ${row.reference}`}
      about={
        row.signed
          ? `The shop reported it, signed, but: ${row.misfit}. Confirmed, it is recorded and earns as any other payment.`
          : 'It is recorded as the picture said, and paid after hold, whatever was agreed. If the signed report comes later, its values count.'
      }
    >
      <p>
        <b className="font-semibold">{row.product}</b>, <Money value={row.value} />
        {row.affiliate ? (
          <>
            , credited to <span className="private">{row.affiliate}</span>: {row.reason}
          </>
        ) : (
          `: ${row.reason}`
        )}
        .
      </p>
      {row.misfit && <Note className="private mt-2">{row.misfit}.</Note>}
      <DialogFoot>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          autoFocus
          look="main"
          busy={confirm.isPending}
          onClick={() => confirm.mutate({ params: { id: row.id } })}
        >
          Confirm the sale
        </Button>
      </DialogFoot>
    </Dialog>
  );
}

function SettingAside({ row, onClose }: { row: Row; onClose: () => void }) {
  const [note, setNote] = useState('');
  const aside = useAct(setUnconfirmedAside, {
    done: () => {
      onClose();
      toast(`${row.reference} is set aside`);
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Set ${row.reference} aside`}
      about="It stays listed among those set aside. The signed report still counts, if it comes."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          aside.mutate({ params: { id: row.id }, body: { note } });
        }}
      >
        <Labelled>
          Why
          <input
            autoFocus
            required
            minLength={3}
            maxLength={500}
            value={note}
            onChange={(e) => setNote(e.target.value)}
            placeholder="No such order in the shop"
            className="mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink"
          />
        </Labelled>
        <SubmitFoot onLeave={onClose} look="danger" busy={aside.isPending}>
          Set aside
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
