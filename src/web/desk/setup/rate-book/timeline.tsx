import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { readTimeline, undoTimeline } from '../../../../contract/setup/rate-book';
import type { changeKinds } from '../../../../core/terms/lists';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useList } from '../../../kit/lists';
import { Empty, Failed, Heading } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Moment } from '../../../kit/text';
import { useMay } from '../../roles';

type ChangeKind = (typeof changeKinds)[number];
type StateName = 'coming' | 'running' | 'done';
const options = [
  ['', 'every change'],
  ['coming', 'what is coming'],
  ['running', 'what is running'],
  ['done', 'what is done'],
] as const;

/** What happens at its moment, and does not run. */
const isAtOnce = (kind: ChangeKind) => kind === 'creative' || kind === 'coupon';

/** Every change of terms, and what is planned for material: done, running, coming; what has not begun can be undone. */
export default function Timeline() {
  const [params, setParams] = useSearchParams();
  const state = (params.get('state') ?? '') as StateName | '';
  const list = useList(readTimeline, state ? { state } : {});
  const may = useMay();
  const undo = useAct(undoTimeline, { done: () => toast('Taken back: it will not begin') });
  const withdraw = useAct(undoTimeline, { done: () => toast('The end is withdrawn: it runs on') });
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Heading
        title="Timeline"
        acts={
          <Link className="link-level" to="/rates">
            Rate book
          </Link>
        }
      >
        Showing{' '}
        <Choice
          label="State"
          value={state}
          options={options}
          onChange={(v) => setParams(v ? { state: v } : {}, { replace: true })}
        />
        , latest start first
      </Heading>
      <Table
        label="Changes of terms"
        rows={list.rows}
        idOf={(r) => r.id}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          <Empty title="Nothing here">
            Changes of rates, shares, locks, pauses and the order of tags, and what is planned for creatives
            and coupons, stand here with who made them.
          </Empty>
        }
        columns={[
          { head: 'Begins', cell: (r) => <Moment at={r.from === 0 ? null : r.from} />, width: '140px' },
          {
            head: 'Ends',
            cell: (r) =>
              r.until === null ? (
                <span className="text-ink3">{isAtOnce(r.kind) ? '—' : 'open'}</span>
              ) : (
                <Moment at={r.until} />
              ),
            width: '140px',
          },
          {
            head: 'What',
            cell: (r) => (
              <span className="private block max-w-[300px] truncate" title={r.what}>
                {r.what}
              </span>
            ),
          },
          {
            head: 'Where',
            cell: (r) => (
              <span className="private block max-w-[230px] truncate" title={r.place}>
                {r.place}
              </span>
            ),
          },
          { head: 'State', cell: (r) => <State is={r.state} />, width: '90px' },
          { head: 'By', cell: (r) => <span className="text-ink2">{r.by}</span>, width: '120px' },
          {
            head: '',
            cell: (r) =>
              r.undoes && may(undoTimeline) ? (
                <Button
                  look="bare"
                  aria-label={`${r.undoes === 'end' ? 'Withdraw the end of' : 'Undo'} ${r.what}, ${r.place}`}
                  onClick={() => (r.undoes === 'end' ? withdraw : undo).mutate({ params: { id: r.id } })}
                >
                  {r.undoes === 'end' ? 'Withdraw end' : 'Undo'}
                </Button>
              ) : null,
            width: '110px',
          },
        ]}
      />
    </>
  );
}
