import { Button } from '../../../../kit/button';
import { TextLine } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import { Row } from '../../../../kit/layout';
import { SelectField } from '../../../../kit/select';
import { Code } from '../../../../kit/text';
import { moved, type FunnelForm, type Step } from './form';

interface Props {
  form: FunnelForm;
  step: Step;
  index: number;
  may: boolean;
  /** the offer that is being dragged, by its place */
  dragged: number | null;
  onDrag: (index: number | null) => void;
  nameOf: (product: string) => string;
}

/** One offer: its product, its price here, and where the buyer goes on yes and on no. */
export function StepItem({ form, step, index, may, dragged, onDrag, nameOf }: Props) {
  const { steps } = form.typed;
  const ways: [string, string][] = [
    ['', 'finish'],
    ...steps
      .filter((s) => s.code !== step.code)
      .map((s): [string, string] => [s.code, `to ${nameOf(s.product)}`]),
  ];
  return (
    <li
      draggable={may}
      onDragStart={() => onDrag(index)}
      onDragOver={(e) => e.preventDefault()}
      onDrop={() => {
        if (dragged !== null && dragged !== index) form.reorder(moved(steps, dragged, index - dragged));
        onDrag(null);
      }}
      className={`rounded-sm border p-3 ${dragged === index ? 'border-copper bg-copper-wash' : 'border-rule bg-paper'}`}
    >
      <Row>
        <span aria-hidden className="cursor-grab text-ink3">
          ⠿
        </span>
        <b className="font-semibold">
          {index + 1}. {nameOf(step.product)}
        </b>{' '}
        <Code>{step.code}</Code>
        {may && <StepActs form={form} index={index} />}
      </Row>
      <div className="mt-2 grid grid-cols-3 gap-3">
        <Labelled>
          Price here
          <TextLine
            disabled={!may}
            value={step.price}
            onText={(price) => form.set(index, { price })}
            placeholder="the product’s own"
          />
        </Labelled>
        <SelectField
          label="On yes"
          disabled={!may}
          value={step.onYes ?? ''}
          options={ways}
          onPick={(to) => form.set(index, { onYes: to || null })}
        />
        <SelectField
          label="On no"
          disabled={!may}
          value={step.onNo ?? ''}
          options={ways}
          onPick={(to) => form.set(index, { onNo: to || null })}
        />
      </div>
    </li>
  );
}

function StepActs({ form, index }: { form: FunnelForm; index: number }) {
  const { steps } = form.typed;
  const n = index + 1;
  return (
    <span className="ml-auto flex">
      <Button
        look="bare"
        aria-label={`Offer ${n} up`}
        disabled={index === 0}
        onClick={() => form.reorder(moved(steps, index, -1))}
      >
        ↑
      </Button>
      <Button
        look="bare"
        aria-label={`Offer ${n} down`}
        disabled={index === steps.length - 1}
        onClick={() => form.reorder(moved(steps, index, 1))}
      >
        ↓
      </Button>
      <Button
        look="bare"
        aria-label={`Take offer ${n} out`}
        onClick={() => form.reorder(steps.filter((_, at) => at !== index))}
      >
        Take out
      </Button>
    </span>
  );
}
