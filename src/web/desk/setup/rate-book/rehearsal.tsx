import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import {
  cancelRehearsal,
  compareLine,
  readRehearsal,
  type RehearsalOut,
} from '../../../../contract/setup/rate-book';
import { startOfDay } from '../../../../core/calendar/zone';
import { formatMoney } from '../../../../core/money/amount';
import { counted } from '../../../../core/text/counted';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Apart, Split } from '../../../kit/layout';
import { Said } from '../../../kit/note';
import { Failed, Heading, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { Code, Money, Sums } from '../../../kit/text';
import { LineOfWorking } from '../../../kit/working';
import { useMay } from '../../roles';
import { DraftBar, useDraftOfTerms, type DraftAct } from './draft';
import { useEstimate } from './estimate';

type Result = NonNullable<RehearsalOut['result']>;

/** A line whose working is shown before and after. */
interface Opened {
  order: Id<'order'>;
  position: number;
}

/** A rehearsal: its progress while it runs, then who and what would have been different. */
export default function RehearsalPage({ id }: { id: Id<'rehearsal'> }) {
  const query = useQuery({
    ...asking(readRehearsal, { params: { id } }),
    refetchInterval: (q) => (q.state.data?.state === 'running' ? 400 : false),
  });
  const draft = useDraftOfTerms();
  const estimate = useEstimate(draft?.version ?? null, null);
  const { zone, day } = useProgramme();
  const [asked, setAsked] = useState<DraftAct>(null);
  const navigate = useNavigate();
  const keys = useKeys([
    { key: 'Escape', what: 'back to the rate book', act: () => void navigate('/rates') },
    ...(draft
      ? [
          { key: 'r', what: 'rehearse again', act: () => setAsked('rehearse') },
          { key: 's', what: 'save the draft', act: () => setAsked('save') },
        ]
      : []),
  ]);
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const r = query.data;
  const span = `${day(startOfDay(r.from, zone))} – ${day(startOfDay(r.to, zone))}`;
  return (
    <>
      {r.state === 'running' ? (
        <Progress of={r} span={span} />
      ) : r.state === 'done' && r.result ? (
        <Found rehearsal={r} result={r.result} span={span} />
      ) : (
        <Ended r={r} />
      )}
      {draft && draft.id === r.draft && (
        <DraftBar draft={draft} estimate={estimate} open={asked} setOpen={setAsked} />
      )}
      {keys}
    </>
  );
}

/** One that ended before it was done. */
function Ended({ r }: { r: RehearsalOut }) {
  return (
    <div className="flex-1">
      <Heading
        title="Rehearsal"
        acts={
          <Link className="link-level" to="/rates">
            Rate book
          </Link>
        }
      >
        {r.state === 'cancelled'
          ? `Cancelled after ${r.done.toLocaleString('en-GB')} of ${r.total.toLocaleString('en-GB')} orders. Nothing was changed; the draft is kept.`
          : 'It ended before it was done. Nothing was changed; the draft is kept. Rehearse it again.'}
      </Heading>
    </div>
  );
}

function Progress({ of: r, span }: { of: RehearsalOut; span: string }) {
  const may = useMay();
  const cancel = useAct(cancelRehearsal);
  const share = r.total ? r.done / r.total : 0;
  return (
    <div className="flex-1">
      <Heading
        title="Rehearsal"
        acts={
          may(cancelRehearsal) && (
            <Button busy={cancel.isPending} onClick={() => cancel.mutate({ params: { id: r.id } })}>
              Cancel
            </Button>
          )
        }
      >
        {span}
      </Heading>
      <div className="px-5">
        <progress aria-label="Progress" className="h-2 w-[420px]" value={share} max={1} />
        <Said role="status">
          {r.total
            ? `${r.done.toLocaleString('en-GB')} of ${r.total.toLocaleString('en-GB')} orders replayed`
            : 'Counting the orders'}
        </Said>
      </div>
    </div>
  );
}

function Found({ rehearsal: r, result, span }: { rehearsal: RehearsalOut; result: Result; span: string }) {
  const [open, setOpen] = useState<Opened | null>(null);
  const d = result.difference;
  const words =
    d.amount === 0
      ? 'would have cost the same'
      : `would have cost ${formatMoney({ ...d, amount: Math.abs(d.amount) })} ${d.amount > 0 ? 'more' : 'less'}`;
  return (
    <Split>
      <section className="min-w-0 flex-1 overflow-auto bg-sheet pb-6" tabIndex={0} aria-label="Rehearsal">
        <Heading
          title={`The draft ${words}`}
          acts={
            <Link className="link-level" to="/rates">
              Rate book
            </Link>
          }
        >
          {span} · {result.orders.toLocaleString('en-GB')} orders, {result.changed.toLocaleString('en-GB')} of{' '}
          {result.lines.toLocaleString('en-GB')} lines come to something else
          {r.tookMs !== null && ` · took ${(r.tookMs / 1000).toFixed(1)} s`}
          {r.outdated && (
            <p className="mt-1 text-ochre">
              The draft has changed since: rehearse again for its present state.
            </p>
          )}
        </Heading>
        <div className="grid grid-cols-2 gap-x-8 gap-y-6 px-5">
          <Table title="By product" rows={result.products} />
          <Table
            title={`By affiliate, ${result.affiliatesChanged.toLocaleString('en-GB')} changed`}
            rows={result.affiliates}
            link
          />
        </div>
        <Most result={result} open={open} setOpen={setOpen} />
      </section>
      <Margin width="w-[348px]">
        {open ? (
          <Compared
            rehearsal={r.id}
            order={open.order}
            position={open.position}
            onClose={() => setOpen(null)}
          />
        ) : (
          <InAll result={result} />
        )}
      </Margin>
    </Split>
  );
}

/** The lines that change most. */
function Most({
  result,
  open,
  setOpen,
}: {
  result: Result;
  open: Opened | null;
  setOpen: (open: Opened | null) => void;
}) {
  return (
    <div className="px-5 pt-6">
      <h2>The lines that change most</h2>
      {result.most.length === 0 ? (
        <p className="text-ink2">None: every line comes to what it was granted.</p>
      ) : (
        <table className="table">
          <thead>
            <tr>
              <th>Order</th>
              <th>Affiliate</th>
              <th>Product</th>
              <th className="figure">Was</th>
              <th className="figure">Would be</th>
              <th className="figure">Difference</th>
            </tr>
          </thead>
          <tbody>
            {result.most.map((m) => (
              <tr
                key={`${m.order}-${m.position}`}
                data-open=""
                data-at={open?.order === m.order && open.position === m.position}
                onClick={() => setOpen({ order: m.order, position: m.position })}
              >
                <td>
                  <button
                    type="button"
                    className="link"
                    onClick={() => setOpen({ order: m.order, position: m.position })}
                  >
                    <Code>{m.reference}</Code>
                  </button>
                </td>
                <td>{m.affiliate}</td>
                <td>{m.product}</td>
                <WasAndWould rehearsal={m} />
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** What was granted, what it would be, and the difference: three cells of a row. */
function WasAndWould({ rehearsal }: { rehearsal: Pick<Result, 'stored' | 'drafted' | 'difference'> }) {
  return (
    <>
      <td className="figure">
        <Money value={rehearsal.stored} />
      </td>
      <td className="figure">
        <Money value={rehearsal.drafted} />
      </td>
      <td className="figure">
        <Money value={rehearsal.difference} strong />
      </td>
    </>
  );
}

/** What it comes to in all, and who would earn less. */
function InAll({ result }: { result: Result }) {
  return (
    <>
      <h2>In all</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Granted', figure: <Money value={result.stored} /> },
            { label: 'Under the draft', figure: <Money value={result.drafted} /> },
            { label: 'Difference', figure: <Money value={result.difference} />, weight: 'sum' },
          ]}
        />
      </div>
      <Said gap={2} faint>
        Before refunds, at the rates that held on each order’s day but for what the draft changes.
      </Said>
      <h2 className="mt-5">Who would earn less</h2>
      {result.lessCount === 0 ? (
        <p className="text-ink2">Nobody. No notice is asked for on this ground.</p>
      ) : (
        <>
          <p className="text-ink2">
            {counted(result.lessCount, 'affiliate')}: the programme promises them notice, so these cuts cannot
            begin at once.
          </p>
          <div className="mt-1">
            <Sums
              rows={result.less.slice(0, 20).map((l) => ({
                label: (
                  <Link className="link" to={`/affiliates/${l.id}`}>
                    {l.name}
                  </Link>
                ),
                figure: <Money value={l.difference} />,
              }))}
            />
          </div>
        </>
      )}
    </>
  );
}

function Table({
  title,
  rows,
  link = false,
}: {
  title: string;
  rows: Result['products'] | Result['affiliates'];
  link?: boolean;
}) {
  const [all, setAll] = useState(false);
  return (
    <div>
      <h2>{title}</h2>
      <table className="table">
        <thead>
          <tr>
            <th />
            <th className="figure">Was</th>
            <th className="figure">Would be</th>
            <th className="figure">Difference</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, all ? undefined : 8).map((p) => (
            <tr key={p.id}>
              <td>
                {link ? (
                  <Link className="link" to={`/affiliates/${p.id}`}>
                    {p.name}
                  </Link>
                ) : (
                  p.name
                )}
              </td>
              <WasAndWould rehearsal={p} />
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length === 0 && <p className="text-ink2">None.</p>}
      {rows.length > 8 && (
        <button type="button" className="link mt-1" onClick={() => setAll(!all)}>
          {all ? 'the first 8' : `all ${rows.length}`}
        </button>
      )}
    </div>
  );
}

function Compared({
  rehearsal,
  order,
  position,
  onClose,
}: {
  rehearsal: Id<'rehearsal'>;
  order: Id<'order'>;
  position: number;
  onClose: () => void;
}) {
  const both = useQuery(asking(compareLine, { params: { id: rehearsal, order }, query: { position } }));
  if (both.isPending) return <Skeleton lines={8} />;
  if (both.error) return <Failed fault={both.error} />;
  return (
    <>
      <Apart>
        <h2>
          Order{' '}
          <Link className="link" to={`/sales/${order}`}>
            <Code>{both.data.reference}</Code>
          </Link>
        </h2>
        <button type="button" className="link" onClick={onClose}>
          in all
        </button>
      </Apart>
      <h3 className="mt-2 font-semibold">As it was granted</h3>
      {both.data.stored ? (
        <LineOfWorking of={both.data.stored} />
      ) : (
        <p className="text-ink2">No working was kept.</p>
      )}
      <h3 className="mt-4 font-semibold">Under the draft</h3>
      <LineOfWorking of={both.data.drafted} />
    </>
  );
}
