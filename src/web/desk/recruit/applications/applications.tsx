import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  applicationStates,
  askApplicant,
  decideApplications,
  listApplications,
  readApplication,
  reopenApplications,
} from '../../../../contract/recruit/applications';
import { listProducts } from '../../../../contract/setup/products';
import { formatAge } from '../../../../core/calendar/format';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { Share } from '../../../kit/text';
import { useMay } from '../../roles';
import { BlockDialog, ChangeDialog } from './change';
import { AskDialog, DecisionBar, DecisionDialog, type Decision, type Trust } from './decide';
import { ApplicationSheet, EvidenceMargin } from './sheet';

type StateName = (typeof applicationStates)[number];

/** The queue: list, sheet and margin. Moving through the list never loses it. */
export default function Applications() {
  const [params, setParams] = useSearchParams();
  const { id } = useParams();
  const navigate = useNavigate();
  const { now } = useProgramme();
  const may = useMay();
  const state = (params.get('state') ?? 'waiting') as StateName;
  const product = params.get('product') ?? '';
  const q = params.get('q') ?? '';
  const list = useList(listApplications, { state, ...(product ? { product } : {}), ...(q ? { q } : {}) });
  const products = useQuery({
    queryKey: ['products', 'all'],
    queryFn: () => call(listProducts, { query: { limit: 500 } }),
  });
  const counts = (list.first as { counts?: Record<string, number> } | undefined)?.counts ?? {};
  const cursor = useCursor(list.rows, (r) => r.id, id ?? null);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [asking, setAsking] = useState<Decision | null>(null);
  const shownId =
    cursor.at && list.rows.some((r) => r.id === cursor.at) ? cursor.at : (id ?? list.rows[0]?.id ?? null);
  const current = useQuery({
    queryKey: ['application', shownId],
    queryFn: () => call(readApplication, { params: { id: shownId! } }),
    enabled: shownId !== null,
  });
  // known from the row at once: a key that is pressed while the sheet still loads counts
  const shownState = list.rows.find((r) => r.id === shownId)?.state ?? current.data?.state;
  const chosen =
    selected.size > 0
      ? [...selected]
      : shownId && (shownState === 'waiting' || shownState === 'asked')
        ? [shownId]
        : [];
  const [changing, setChanging] = useState<Decision | null>(null);
  const [blocking, setBlocking] = useState(false);
  const decided = current.data?.state === 'approved' || current.data?.state === 'declined';
  const [questioning, setQuestioning] = useState(false);
  const open = state === 'waiting' || state === 'asked';
  const search = params.toString();
  const go = (to: string | undefined) => {
    if (to) {
      cursor.setAt(to);
      void navigate(`/applications/${to}${search ? `?${search}` : ''}`, { replace: true });
    }
  };
  const step = (by: number) => {
    const index = list.rows.findIndex((r) => r.id === shownId);
    go(list.rows[Math.min(list.rows.length - 1, Math.max(0, index + by))]?.id);
  };
  const toggle = (row: string | null) => {
    if (row)
      setSelected((s) => {
        const next = new Set(s);
        if (!next.delete(row)) next.add(row);
        return next;
      });
  };

  const reopen = useAct(reopenApplications, {
    done: (r) =>
      toast(
        r.reopened.length
          ? `${r.reopened.length} waiting again`
          : (r.passed[0]?.why ?? 'Nothing was taken back'),
      ),
  });
  const decide = useAct(decideApplications, {
    done: (r) => {
      setSelected(new Set());
      setAsking(null);
      if (r.decided.length)
        toast(`${counted(r.decided.length, 'application')} decided`, {
          action: { label: 'Undo', onClick: () => reopen.mutate({ body: { ids: r.decided } }) },
        });
      for (const p of r.passed) toast.error(`Passed over: it ${p.why}`);
    },
  });
  const run = (decision: Decision, reason = '', message = true, trust: Trust = null) => {
    if (!chosen.length || decide.isPending) return;
    const index = list.rows.findIndex((r) => r.id === shownId);
    const rest = list.rows.filter((r) => !chosen.includes(r.id));
    go(rest[Math.min(Math.max(0, index), rest.length - 1)]?.id);
    decide.mutate({
      body: {
        ids: chosen,
        decision: decision === 'decline' ? 'decline' : 'approve',
        ...(decision === 'decline' ? {} : { timing: decision }),
        reason,
        message,
        ...(trust ? { trust } : {}),
      },
    });
  };
  const begin = (decision: Decision) => {
    if (decided && selected.size === 0 && may(decideApplications)) {
      setChanging(decision);
      return;
    }
    if (!chosen.length || !may(decideApplications)) return;
    // many at once, a decline, or money before the hold are asked about; one clear approval is not
    if (decision === 'after-hold' && chosen.length === 1) run(decision);
    else setAsking(decision);
  };
  const keys = useKeys([
    { key: 'j', what: 'next', act: () => step(1) },
    { key: 'k', what: 'one before', act: () => step(-1) },
    { key: 'x', what: 'select', act: () => toggle(shownId) },
    {
      key: 'X',
      what: 'select from the first to here',
      act: () =>
        setSelected(
          new Set(list.rows.slice(0, list.rows.findIndex((r) => r.id === shownId) + 1).map((r) => r.id)),
        ),
    },
    { key: 'a', what: 'approve, after hold', act: () => begin('after-hold') },
    { key: 's', what: 'approve, at sale', act: () => begin('at-sale') },
    { key: 'd', what: 'decline', act: () => begin('decline') },
    {
      key: 'q',
      what: 'ask something before deciding',
      act: () => {
        if (chosen.length === 1 && may(askApplicant)) setQuestioning(true);
      },
    },
    {
      key: 'b',
      what: 'block',
      act: () => {
        if (current.data && may(decideApplications)) setBlocking(true);
      },
    },
    {
      key: '/',
      what: 'search',
      act: () => document.querySelector<HTMLInputElement>('input[type=search]')?.focus(),
    },
    { key: 'Escape', what: 'drop the selection', act: () => setSelected(new Set()) },
  ]);
  const rowAt = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    rowAt.current?.scrollIntoView({ block: 'nearest' });
  }, [shownId]);

  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next);
    setSelected(new Set());
  };
  return (
    <>
      <div className="flex min-h-0 flex-1">
        <section className="flex w-[318px] shrink-0 flex-col border-r border-rule" aria-label="Applications">
          <div className="border-b border-rule px-4 pt-3 pb-[10px]">
            <div className="flex items-baseline justify-between">
              <h1>Applications</h1>
              <Link className="link" to="/applications/rules">
                Screening
              </Link>
            </div>
            <div className="mt-[3px] text-ink2">
              <Choice
                label="State"
                value={state}
                options={applicationStates.map(
                  (s) =>
                    [s, `${s[0]!.toUpperCase()}${s.slice(1)}${counts[s] ? ` (${counts[s]})` : ''}`] as const,
                )}
                onChange={(v) => set('state', v)}
              />{' '}
              for{' '}
              <Choice
                label="Product"
                value={product}
                options={[
                  ['', 'anything'],
                  ...(products.data?.rows ?? []).map((p) => [p.id, p.name] as const),
                ]}
                onChange={(v) => set('product', v)}
              />
              , {open ? 'oldest' : 'newest'} first
            </div>
            <div className="mt-2">
              <SearchField label="Name, site or address" />
            </div>
          </div>
          <div
            className="min-h-0 flex-1 overflow-auto"
            onScroll={(e) => {
              const el = e.currentTarget;
              if (list.onEnd && el.scrollTop + el.clientHeight > el.scrollHeight - 400) list.onEnd();
            }}
          >
            {list.rows.map((r) => (
              <div
                key={r.id}
                className={`relative border-b border-rule2 ${r.id === shownId ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
              >
                {(selected.size > 0 || r.id === shownId) && open && (
                  <input
                    type="checkbox"
                    aria-label={`Select ${r.name}`}
                    checked={selected.has(r.id)}
                    onChange={() => toggle(r.id)}
                    className="absolute top-[11px] left-[7px] size-[11px] accent-copper"
                  />
                )}
                <button
                  type="button"
                  ref={r.id === shownId ? rowAt : undefined}
                  aria-current={r.id === shownId}
                  onClick={() => go(r.id)}
                  className="grid w-full grid-cols-[1fr_auto] gap-x-2 gap-y-px px-[22px] py-2 pr-4 text-left"
                >
                  <b className="private truncate font-semibold">{r.name}</b>
                  <span className="text-right">{formatAge(r.createdAt, now)}</span>
                  <span className="truncate text-[12px] text-ink3">
                    {r.product ?? 'Whole programme'} · {r.country} · {r.cleared}
                    {r.tenure && <span title="Tenure as an affiliate"> · {r.tenure}</span>}
                    {r.vouched && <span className="text-verdigris"> · vouched for</span>}
                  </span>
                  <span className="text-right text-[12px] text-ink3">
                    {r.standing !== null && <span title="Standing, of 100">{r.standing} · </span>}
                    <Share ppm={r.refundRate} />
                  </span>
                  {r.remarks.length > 0 && (
                    <span className="col-span-2 text-[12px] text-madder">{r.remarks.join(' · ')}</span>
                  )}
                </button>
              </div>
            ))}
            {list.loading && <Skeleton lines={5} />}
            {!list.loading && list.rows.length === 0 && (
              <div className="p-4">
                <Empty title={state === 'waiting' ? 'Nobody is waiting' : `None ${state}`}>
                  {state === 'waiting' &&
                    'Applications from the join page arrive here. Its address is on Today.'}
                </Empty>
              </div>
            )}
          </div>
        </section>
        {current.error && <Failed fault={current.error} retry={() => void current.refetch()} />}
        {shownId && current.isPending && (
          <div className="flex-1">
            <Skeleton />
          </div>
        )}
        {current.data && (
          <>
            <ApplicationSheet of={current.data} />
            <EvidenceMargin of={current.data} />
          </>
        )}
        {!shownId && !list.loading && <div className="flex-1 bg-sheet" />}
      </div>
      <DecisionBar
        may={may(decideApplications)}
        enabled={(chosen.length > 0 || decided) && !decide.isPending}
        onBlock={() => setBlocking(true)}
        begin={begin}
        onAsk={() => setQuestioning(true)}
        selected={selected.size}
        position={list.rows.findIndex((r) => r.id === shownId) + 1}
        total={counts[state] ?? list.rows.length}
        state={state}
      />
      <DecisionDialog
        decision={asking}
        ids={chosen}
        current={current.data ?? null}
        rows={list.rows}
        busy={decide.isPending}
        onClose={() => setAsking(null)}
        onDecide={(reason, message, trust) => asking && run(asking, reason, message, trust)}
      />
      {changing && current.data && (
        <ChangeDialog decision={changing} of={current.data} onClose={() => setChanging(null)} />
      )}
      {blocking && current.data && <BlockDialog of={current.data} onClose={() => setBlocking(false)} />}
      {questioning && current.data && <AskDialog of={current.data} onClose={() => setQuestioning(false)} />}
      {keys}
    </>
  );
}
