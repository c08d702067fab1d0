import { useState } from 'react';
import { toast } from 'sonner';
import { editFunnel, removeFunnel, type FunnelOut } from '../../../../../contract/setup/funnels';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { Button } from '../../../../kit/button';
import { Confirm } from '../../../../kit/confirm';
import { TextLine } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import { Pair } from '../../../../kit/layout';
import { Note } from '../../../../kit/note';
import { Heading } from '../../../../kit/place';
import { RestoredNote } from '../../../../kit/restored';
import { SelectField } from '../../../../kit/select';
import { useMay } from '../../../roles';
import { proposedCode, useFunnelForm, type FunnelForm, type Product } from './form';
import { FunnelMargin } from './margin';
import { StepItem } from './step';

interface Props {
  funnel: FunnelOut | null;
  products: Product[];
  /** what was saved, null after it was removed */
  onDone: (f: FunnelOut | null) => void;
}

/** A funnel: what opens it, the offers in their order, and what goes down it. */
export function FunnelEditor({ funnel, products, onDone }: Props) {
  const may = useMay()(editFunnel);
  const form = useFunnelForm({ funnel, products, may, onDone });
  const [removing, setRemoving] = useState(false);
  const nameOf = (id: string) => products.find((p) => p.id === id)?.name ?? id;
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
            form.save();
          }}
        >
          {form.restored && <RestoredNote did="changed" discard={form.discard} />}
          <Opening form={form} products={products} may={may} />
          <Steps form={form} may={may} nameOf={nameOf} />
          {may && <OneMore form={form} products={products} />}
          {form.note}
          {form.faults.map((f) => (
            <Note tone="refused" key={f} role="alert">
              {f}
            </Note>
          ))}
          {may && (
            <Button type="submit" look="main" disabled={!form.whole} busy={form.busy}>
              {funnel ? 'Save' : 'Create the funnel'}
            </Button>
          )}
        </form>
      </section>
      <FunnelMargin funnel={funnel} opening={funnel ? nameOf(funnel.opening) : ''} />
      {removing && funnel && (
        <RemoveDialog funnel={funnel} onClose={() => setRemoving(false)} onRemoved={() => onDone(null)} />
      )}
    </>
  );
}

function Opening({ form, products, may }: { form: FunnelForm; products: Product[]; may: boolean }) {
  const { typed, put } = form;
  return (
    <Pair>
      <Labelled>
        Name
        <TextLine
          required
          maxLength={80}
          disabled={!may}
          value={typed.name}
          onText={(name) => put({ name })}
          placeholder="After the wheel"
        />
      </Labelled>
      <SelectField
        label="Opens with"
        disabled={!may}
        value={typed.opening}
        options={products.map((p) => [p.id, p.name] as const)}
        onPick={(opening) => put({ opening })}
      />
    </Pair>
  );
}

function Steps({
  form,
  may,
  nameOf,
}: {
  form: FunnelForm;
  may: boolean;
  nameOf: (product: string) => string;
}) {
  const [dragged, setDragged] = useState<number | null>(null);
  return (
    <ol className="space-y-2" aria-label="Offers in order">
      {form.typed.steps.map((step, i) => (
        <StepItem
          key={step.code}
          form={form}
          step={step}
          index={i}
          may={may}
          dragged={dragged}
          onDrag={setDragged}
          nameOf={nameOf}
        />
      ))}
    </ol>
  );
}

function OneMore({ form, products }: { form: FunnelForm; products: Product[] }) {
  const { steps, opening } = form.typed;
  const add = (product: Id<'product'> | '') => {
    if (!product) return;
    const code = proposedCode(products.find((p) => p.id === product)?.code, steps);
    form.reorder([...steps, { code, product, price: '', onYes: null, onNo: null }]);
  };
  return (
    <SelectField
      label="One more offer"
      value=""
      options={[
        ['', 'choose a product…'],
        ...products.filter((p) => p.id !== opening).map((p) => [p.id, p.name] as const),
      ]}
      onPick={add}
      className="mt-1 block w-full max-w-[320px]"
    />
  );
}

function RemoveDialog({
  funnel,
  onClose,
  onRemoved,
}: {
  funnel: FunnelOut;
  onClose: () => void;
  onRemoved: () => void;
}) {
  const remove = useAct(removeFunnel, {
    done: () => {
      toast(`${funnel.name} is removed`);
      onRemoved();
    },
  });
  return (
    <Confirm
      open
      onClose={onClose}
      title={`Remove ${funnel.name}`}
      about="Its products stay. Rates that were set for its steps alone end. Sales keep what they earned."
      act="Remove"
      danger
      busy={remove.isPending}
      onAct={() => remove.mutate({ params: { id: funnel.id }, body: { version: funnel.version } })}
    />
  );
}
