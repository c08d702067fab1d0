import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import {
  createFunnel,
  editFunnel,
  type FunnelIn,
  type FunnelOut,
} from '../../../../../contract/setup/funnels';
import { faultsOfFunnel, inARow } from '../../../../../core/pricing/funnel';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { Refused } from '../../../../kit/api';
import { useBegun, useFollow, type Begun } from '../../../../kit/begun';
import { dropDraft, keepDraft, readDraft } from '../../../../kit/draft';

export type Product = { id: Id<'product'>; code: string; name: string };
export type Step = FunnelIn['steps'][number];

/** As a record of fields, for comparing. */
export type Typed = Omit<FunnelIn, 'opening'> & { opening: Id<'product'> | '' } & Record<string, unknown>;

const titles: Record<string, string> = {
  name: 'Name',
  opening: 'Opens with',
  first: 'First offer',
  steps: 'Offers',
};

const valuesOf = ({ name, opening, first, steps }: FunnelOut): Typed => ({ name, opening, first, steps });

const read = (current: unknown): Begun<Typed> => ({
  values: valuesOf(current as FunnelOut),
  version: (current as FunnelOut).version,
});

/** A code for one more step with a product, that no other step has. */
export function proposedCode(code: string | undefined, steps: readonly Step[]): string {
  const stem = (code ?? 'step').toLowerCase();
  for (let n = 1; ; n += 1) if (!steps.some((s) => s.code === `${stem}-${n}`)) return `${stem}-${n}`;
}

/** The steps with one of them elsewhere. */
export function moved(steps: readonly Step[], from: number, by: number): Step[] {
  const next = [...steps];
  const [step] = next.splice(from, 1);
  next.splice(from + by, 0, step!);
  return next;
}

/** What is typed of a funnel: kept in this browser until it is saved, and set beside what others saved meanwhile. */
function useTyped(funnel: FunnelOut | null, products: Product[], may: boolean) {
  const draftName = `funnel-${funnel?.id ?? 'new'}`;
  const now: Begun<Typed> = funnel
    ? read(funnel)
    : { values: { name: '', opening: products[0]?.id ?? '', first: null, steps: [] }, version: 0 };
  const [restored, setRestored] = useState(() =>
    may ? readDraft<{ begun: Begun<Typed>; typed: Typed }>(draftName) : null,
  );
  const base = useBegun<Typed>(restored?.begun ?? now, (field) => titles[field] ?? field);
  const saved = base.begun.values;
  const [typed, setTyped] = useState<Typed>(restored?.typed ?? saved);
  const dirty = JSON.stringify(typed) !== JSON.stringify(saved);
  useEffect(() => {
    if (dirty) keepDraft(draftName, { begun: base.begun, typed });
    else dropDraft(draftName);
  }, [dirty, draftName, typed, base.begun]);
  const restart = (from: Begun<Typed>) => {
    base.restart(from);
    setTyped(from.values);
  };
  useFollow(!dirty && now.version > base.begun.version, () => restart(now));
  return {
    typed,
    put: (more: Partial<Typed>) => setTyped((all) => ({ ...all, ...more })),
    base,
    restored: restored !== null && dirty,
    discard: () => {
      dropDraft(draftName);
      setRestored(null);
      setTyped(saved);
    },
    saved: (f: FunnelOut) => {
      restart(read(f));
      dropDraft(draftName);
    },
  };
}

const saidOf = (thrown: unknown): string =>
  thrown instanceof Refused
    ? thrown.problem.errors.map((e) => e.detail).join('; ') || thrown.problem.detail
    : 'Something went wrong in this page; what you typed is kept.';

export type FunnelForm = ReturnType<typeof useFunnelForm>;

interface Given {
  funnel: FunnelOut | null;
  products: Product[];
  may: boolean;
  onDone: (f: FunnelOut) => void;
}

/** The form of a funnel, its faults, and saving it. */
export function useFunnelForm({ funnel, products, may, onDone }: Given) {
  const { typed, put, base, restored, discard, saved } = useTyped(funnel, products, may);
  const { first, steps } = typed;
  const [fault, setFault] = useState('');
  const done = (f: FunnelOut) => {
    saved(f);
    toast('Saved');
    onDone(f);
  };
  const make = useAct(createFunnel, { quiet: true, done });
  const edit = useAct(editFunnel, { quiet: true, done });
  const putField = (field: string, value: unknown) => put({ [field]: value });
  const save = () => {
    const { opening } = typed;
    if (!opening) {
      setFault('Opens with: no product is chosen');
      return;
    }
    setFault('');
    const body = { ...typed, opening };
    const onError = (thrown: unknown) => {
      if (!base.overtake(thrown, read, typed, putField)) setFault(saidOf(thrown));
    };
    if (funnel)
      edit.mutate({ params: { id: funnel.id }, body: { ...body, version: base.begun.version } }, { onError });
    else make.mutate({ body }, { onError });
  };
  const ownFaults = faultsOfFunnel(first, steps).map((f) => f.detail);
  return {
    typed,
    put,
    // in a new order, the ways out follow the row; whoever wants branches sets them after that
    reorder: (next: Step[]) => put({ steps: inARow(next), first: next[0]?.code ?? null }),
    set: (index: number, more: Partial<Step>) =>
      put({ steps: steps.map((s, n) => (n === index ? { ...s, ...more } : s)) }),
    save,
    busy: make.isPending || edit.isPending,
    whole: ownFaults.length === 0,
    faults: [...ownFaults, ...(fault ? [fault] : [])],
    note: base.note(putField),
    restored,
    discard,
  };
}
