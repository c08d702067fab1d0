import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  createFunnel,
  editFunnel,
  listFunnels,
  removeFunnel,
  type FunnelIn,
  type FunnelOut,
} from '../../../../contract/setup/funnels';
import { listProducts } from '../../../../contract/setup/products';
import { faultsOfFunnel, inARow } from '../../../../core/pricing/funnel';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { call, Refused } from '../../../kit/api';
import { useBegun, useFollow, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { dropDraft, keepDraft, readDraft } from '../../../kit/draft';
import { useKeys } from '../../../kit/keys';
import { Labelled } from '../../../kit/labelled';
import { Note } from '../../../kit/note';
import { Empty, Failed, Heading, Margin, Skeleton } from '../../../kit/place';
import { Code, Money, Sums } from '../../../kit/text';
import { useMay } from '../../roles';

type Product = { id: string; code: string; name: string };
const field = 'w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

/** Funnels: an opening product and the offers that follow it. */
export default function Funnels() {
  const may = useMay();
  const navigate = useNavigate();
  const funnels = useQuery({ queryKey: ['funnels'], queryFn: () => call(listFunnels) });
  const products = useQuery({
    queryKey: ['products', 'all'],
    queryFn: () => call(listProducts, { query: { limit: 500 } }),
  });
  const [params, setParams] = useSearchParams();
  const open = params.get('funnel');
  const setOpen = (id: string | null) => setParams(id ? { funnel: id } : {}, { replace: true });
  const keys = useKeys([
    { key: 'Escape', what: 'back to the products', act: () => void navigate('/products') },
  ]);
  if (funnels.isPending || products.isPending) return <Skeleton />;
  if (funnels.error || products.error)
    return (
      <Failed
        fault={funnels.error ?? products.error}
        retry={() => {
          void funnels.refetch();
          void products.refetch();
        }}
      />
    );
  const rows = funnels.data.rows;
  const chosen = rows.find((f) => f.id === open) ?? null;
  const usable = products.data.rows.filter((p) => p.state !== 'retired');
  return (
    <div className="flex min-h-0 flex-1">
      <section
        className="w-[300px] shrink-0 overflow-auto border-r border-rule"
        tabIndex={0}
        aria-label="Funnels"
      >
        <Heading title="Funnels">
          <Link className="link" to="/products">
            Products
          </Link>
        </Heading>
        <ul>
          {rows.map((f) => (
            <li
              key={f.id}
              className={`border-b border-rule2 ${f.id === open ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
            >
              <button type="button" className="w-full px-5 py-[7px] text-left" onClick={() => setOpen(f.id)}>
                <span className="block font-semibold">{f.name}</span>
                <span className="text-ink3">
                  {f.openingName}, then {counted(f.steps.length, 'offer')}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {may(createFunnel) && (
          <div className="px-5 py-3">
            <Button onClick={() => setOpen('new')}>New funnel</Button>
          </div>
        )}
      </section>
      {open === 'new' || chosen ? (
        <Editor
          key={chosen?.id ?? 'new'}
          funnel={chosen}
          products={usable}
          onDone={(f) => setOpen(f?.id ?? null)}
        />
      ) : (
        <div className="flex-1 bg-sheet p-6">
          <Empty title={rows.length ? 'Choose a funnel' : 'No funnel yet'}>
            A funnel offers something more right after a purchase. Each offer can have its own price, and its
            own rate in the rate book.
          </Empty>
        </div>
      )}
      {keys}
    </div>
  );
}

/** As a record of fields, for comparing. */
type Typed = FunnelIn & Record<string, unknown>;
const titles: Record<string, string> = {
  name: 'Name',
  opening: 'Opens with',
  first: 'First offer',
  steps: 'Offers',
};

function Editor({
  funnel,
  products,
  onDone,
}: {
  funnel: FunnelOut | null;
  products: Product[];
  onDone: (f: FunnelOut | null) => void;
}) {
  const may = useMay()(editFunnel);
  const draftName = `funnel-${funnel?.id ?? 'new'}`;
  const valuesOf = (f: FunnelOut): Typed => ({
    name: f.name,
    opening: f.opening,
    first: f.first,
    steps: f.steps,
  });
  const now: Begun<Typed> = {
    values: funnel ? valuesOf(funnel) : { name: '', opening: products[0]?.id ?? '', first: null, steps: [] },
    version: funnel?.version ?? 0,
  };
  const [restored, setRestored] = useState(() =>
    may ? readDraft<{ begun: Begun<Typed>; typed: Typed }>(draftName) : null,
  );
  const base = useBegun<Typed>(restored?.begun ?? now, (field) => titles[field] ?? field);
  const saved = base.begun.values;
  const [{ name, opening, first, steps }, setAll] = useState<Typed>(restored?.typed ?? saved);
  const putField = (field: string, value: unknown) => setAll((all) => ({ ...all, [field]: value }));
  const put = (more: Partial<FunnelIn>) => setAll((all) => ({ ...all, ...more }));
  const dirty = JSON.stringify({ name, opening, first, steps }) !== JSON.stringify(saved);
  // kept in this browser until it is saved
  useEffect(() => {
    if (dirty) keepDraft(draftName, { begun: base.begun, typed: { name, opening, first, steps } });
    else dropDraft(draftName);
  }, [dirty, draftName, name, opening, first, steps, base.begun]);
  useFollow(!dirty && now.version > base.begun.version, () => {
    base.restart(now);
    setAll(now.values);
  });
  const [dragged, setDragged] = useState<number | null>(null);
  const [fault, setFault] = useState('');
  const [removing, setRemoving] = useState(false);
  const done = (f: FunnelOut) => {
    base.restart({ values: valuesOf(f), version: f.version });
    setAll(valuesOf(f));
    dropDraft(draftName);
    toast('Saved');
    onDone(f);
  };
  const make = useAct(createFunnel, { quiet: true, done });
  const edit = useAct(editFunnel, { quiet: true, done });
  const remove = useAct(removeFunnel, {
    done: () => {
      toast(`${name} is removed`);
      onDone(null);
    },
  });
  const nameOf = (id: string) => products.find((p) => p.id === id)?.name ?? id;
  const proposed = (product: string) => {
    const stem = (products.find((p) => p.id === product)?.code ?? 'step').toLowerCase();
    for (let n = 1; ; n += 1) if (!steps.some((s) => s.code === `${stem}-${n}`)) return `${stem}-${n}`;
  };
  // in a new order, the ways out follow the row; whoever wants branches sets them after that
  const reorder = (next: FunnelIn['steps']) => put({ steps: inARow(next), first: next[0]?.code ?? null });
  const moveStep = (i: number, by: number) => {
    const next = [...steps];
    const [s] = next.splice(i, 1);
    next.splice(i + by, 0, s!);
    reorder(next);
  };
  const set = (i: number, more: Partial<FunnelIn['steps'][number]>) =>
    put({ steps: steps.map((s, n) => (n === i ? { ...s, ...more } : s)) });
  const faults = faultsOfFunnel(first, steps);
  const save = () => {
    const body = { name, opening, first, steps };
    const read = (current: unknown): Begun<Typed> => ({
      values: valuesOf(current as FunnelOut),
      version: (current as FunnelOut).version,
    });
    const onError = (x: unknown) =>
      !base.overtake(x, read, body, putField) &&
      setFault(
        x instanceof Refused
          ? x.problem.errors.map((e) => e.detail).join('; ') || x.problem.detail
          : 'Something went wrong in this page; what you typed is kept.',
      );
    if (funnel)
      edit.mutate({ params: { id: funnel.id }, body: { ...body, version: base.begun.version } }, { onError });
    else make.mutate({ body }, { onError });
  };
  const ways = (own: string) => [
    <option key="" value="">
      finish
    </option>,
    ...steps
      .filter((s) => s.code !== own)
      .map((s) => (
        <option key={s.code} value={s.code}>
          to {nameOf(s.product)}
        </option>
      )),
  ];
  return (
    <>
      <section className="min-w-0 flex-1 overflow-auto bg-sheet pb-6" tabIndex={0} aria-label="Funnel">
        <Heading
          title={funnel?.name ?? 'New funnel'}
          acts={
            funnel && may ? (
              <Button look="danger" onClick={() => setRemoving(true)}>
                Remove…
              </Button>
            ) : undefined
          }
        />
        <form
          className="max-w-[640px] space-y-4 px-5"
          onSubmit={(e) => {
            e.preventDefault();
            setFault('');
            save();
          }}
        >
          {restored && dirty && (
            <Note role="status">
              What you changed last time and did not save is here again.{' '}
              <button
                type="button"
                className="link"
                onClick={() => {
                  dropDraft(draftName);
                  setRestored(null);
                  setAll(saved);
                }}
              >
                Discard it
              </button>
            </Note>
          )}
          <div className="grid grid-cols-2 gap-4">
            <Labelled>
              Name
              <input
                required
                maxLength={80}
                disabled={!may}
                value={name}
                onChange={(e) => put({ name: e.target.value })}
                placeholder="After the wheel"
                className={field}
              />
            </Labelled>
            <Labelled>
              Opens with
              <select
                disabled={!may}
                value={opening}
                onChange={(e) => put({ opening: e.target.value })}
                className={field}
              >
                {products.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </select>
            </Labelled>
          </div>
          <ol className="space-y-2" aria-label="Offers in order">
            {steps.map((s, i) => (
              <li
                key={s.code}
                draggable={may}
                onDragStart={() => setDragged(i)}
                onDragOver={(e) => e.preventDefault()}
                onDrop={() => {
                  if (dragged !== null && dragged !== i) moveStep(dragged, i - dragged);
                  setDragged(null);
                }}
                className={`rounded-sm border p-3 ${dragged === i ? 'border-copper bg-copper-wash' : 'border-rule bg-paper'}`}
              >
                <div className="flex items-center gap-2">
                  <span aria-hidden className="cursor-grab text-ink3">
                    ⠿
                  </span>
                  <b className="font-semibold">
                    {i + 1}. {nameOf(s.product)}
                  </b>{' '}
                  <Code>{s.code}</Code>
                  {may && (
                    <span className="ml-auto flex">
                      <Button
                        look="bare"
                        aria-label={`Offer ${i + 1} up`}
                        disabled={i === 0}
                        onClick={() => moveStep(i, -1)}
                      >
                        ↑
                      </Button>
                      <Button
                        look="bare"
                        aria-label={`Offer ${i + 1} down`}
                        disabled={i === steps.length - 1}
                        onClick={() => moveStep(i, 1)}
                      >
                        ↓
                      </Button>
                      <Button
                        look="bare"
                        aria-label={`Take offer ${i + 1} out`}
                        onClick={() => reorder(steps.filter((_, n) => n !== i))}
                      >
                        Take out
                      </Button>
                    </span>
                  )}
                </div>
                <div className="mt-2 grid grid-cols-3 gap-3">
                  <Labelled>
                    Price here
                    <input
                      disabled={!may}
                      value={s.price}
                      onChange={(e) => set(i, { price: e.target.value })}
                      placeholder="the product’s own"
                      className={field}
                    />
                  </Labelled>
                  <Labelled>
                    On yes
                    <select
                      disabled={!may}
                      value={s.onYes ?? ''}
                      onChange={(e) => set(i, { onYes: e.target.value || null })}
                      className={field}
                    >
                      {ways(s.code)}
                    </select>
                  </Labelled>
                  <Labelled>
                    On no
                    <select
                      disabled={!may}
                      value={s.onNo ?? ''}
                      onChange={(e) => set(i, { onNo: e.target.value || null })}
                      className={field}
                    >
                      {ways(s.code)}
                    </select>
                  </Labelled>
                </div>
              </li>
            ))}
          </ol>
          {may && (
            <Labelled>
              One more offer
              <select
                value=""
                onChange={(e) => {
                  if (e.target.value)
                    reorder([
                      ...steps,
                      {
                        code: proposed(e.target.value),
                        product: e.target.value,
                        price: '',
                        onYes: null,
                        onNo: null,
                      },
                    ]);
                }}
                className={`${field} mt-1 block max-w-[320px]`}
              >
                <option value="">choose a product…</option>
                {products
                  .filter((p) => p.id !== opening)
                  .map((p) => (
                    <option key={p.id} value={p.id}>
                      {p.name}
                    </option>
                  ))}
              </select>
            </Labelled>
          )}
          {base.note(putField)}
          {[...faults.map((f) => f.detail), ...(fault ? [fault] : [])].map((f) => (
            <Note tone="refused" key={f} role="alert">
              {f}
            </Note>
          ))}
          {may && (
            <Button
              type="submit"
              look="main"
              disabled={faults.length > 0}
              busy={make.isPending || edit.isPending}
            >
              {funnel ? 'Save' : 'Create the funnel'}
            </Button>
          )}
        </form>
      </section>
      <Margin width="w-[290px]">
        <h2>Down the funnel</h2>
        {funnel ? (
          <>
            <div className="mt-1">
              <Sums
                rows={[
                  {
                    label: nameOf(funnel.opening),
                    figure: `${funnel.openings.toLocaleString('en-GB')} orders`,
                  },
                  ...funnel.taken.map((t) => ({
                    label: (
                      <>
                        ↳ {t.name}
                        <br />
                        <span className="text-ink3">
                          {t.rate} to everybody · <Money of={t.value} />
                        </span>
                      </>
                    ),
                    figure: `${t.orders.toLocaleString('en-GB')}${funnel.openings ? `, ${((t.orders / funnel.openings) * 100).toFixed(1)} %` : ''}`,
                  })),
                ]}
              />
            </div>
            {funnel.per100 && (
              <div className="mt-4">
                <h3 className="font-semibold">A hundred purchases bring</h3>
                <Sums
                  rows={[
                    { label: 'With what followed them', figure: <Money of={funnel.per100.value} /> },
                    {
                      label: 'Commission',
                      figure: (
                        <Money
                          of={{ ...funnel.per100.commission, amount: -funnel.per100.commission.amount }}
                        />
                      ),
                    },
                    {
                      label: 'Left, before fees, refunds and cost',
                      figure: <Money of={funnel.per100.left} />,
                      weight: 'sum',
                    },
                  ]}
                />
              </div>
            )}
            <p className="mt-3 text-ink2">
              A rate for one step alone is set in the{' '}
              <Link className="link" to="/rates">
                rate book
              </Link>
              , in the row beneath the opening product.
            </p>
          </>
        ) : (
          <p className="text-ink2">Saved, it shows here how many take each offer, and what it pays.</p>
        )}
      </Margin>
      <Dialog
        open={removing}
        onClose={() => setRemoving(false)}
        title={`Remove ${name}`}
        about="Its products stay. Rates that were set for its steps alone end. Sales keep what they earned."
      >
        <DialogFoot>
          <Button onClick={() => setRemoving(false)}>Leave it</Button>
          <Button
            look="danger"
            busy={remove.isPending}
            onClick={() =>
              funnel && remove.mutate({ params: { id: funnel.id }, body: { version: funnel.version } })
            }
          >
            Remove
          </Button>
        </DialogFoot>
      </Dialog>
    </>
  );
}
