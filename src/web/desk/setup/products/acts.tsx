import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { copyProduct, moveProduct, type ProductOut } from '../../../../contract/setup/products';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Confirm } from '../../../kit/confirm';
import { Bar } from '../../../kit/place';
import { useMay } from '../../roles';

const moves: Record<string, [to: 'live' | 'paused' | 'retired', text: string, about: string][]> = {
  draft: [['live', 'Put live', 'Affiliates who are approved get their links, and the join page shows it.']],
  live: [
    ['paused', 'Pause', 'It leaves the join page; links go on leading buyers to its page.'],
    ['retired', 'Retire', 'No new commissions for visits from now on. Everything earned stays.'],
  ],
  paused: [
    ['live', 'Put live', 'It is on the join page again.'],
    ['retired', 'Retire', 'No new commissions for visits from now on. Everything earned stays.'],
  ],
  retired: [['paused', 'Bring back', 'It comes back paused, so that you can look it over first.']],
};

export type Move = (typeof moves)[string][number];

interface BarProps {
  product: ProductOut | null;
  mayEdit: boolean;
  dirty: boolean;
  saving: boolean;
  discard: () => void;
  onMove: (move: Move) => void;
}

/** Saving what is typed; where nothing is, the other acts on the product. */
export function EditorBar({ product, mayEdit, dirty, saving, discard, onMove }: BarProps) {
  return (
    <Bar tone={dirty ? 'draft' : 'plain'}>
      {mayEdit && (
        <Button type="submit" form="product" look="main" busy={saving} disabled={!dirty && product !== null}>
          {product ? 'Save' : 'Create the draft'}
        </Button>
      )}
      {dirty && (
        <>
          <Button onClick={discard}>Discard</Button>
          <span className="text-ink2">Unsaved changes, kept in this browser</span>
        </>
      )}
      {!dirty && product && <ProductActs product={product} onMove={onMove} />}
    </Bar>
  );
}

function ProductActs({ product, onMove }: { product: ProductOut; onMove: (move: Move) => void }) {
  const navigate = useNavigate();
  const may = useMay();
  const copy = useAct(copyProduct, {
    done: (p) => {
      toast(`${p.code} is a draft`);
      void navigate(`/products/${p.id}`);
    },
  });
  return (
    <>
      {may(moveProduct) &&
        (moves[product.state] ?? []).map((m) => (
          <Button key={m[0]} look={m[0] === 'live' ? 'main' : 'quiet'} onClick={() => onMove(m)}>
            {m[1]}
          </Button>
        ))}
      {may(copyProduct) && (
        <Button busy={copy.isPending} onClick={() => copy.mutate({ params: { id: product.id } })}>
          Copy
        </Button>
      )}
    </>
  );
}

export function MoveDialog({
  product,
  move,
  onClose,
}: {
  product: ProductOut;
  move: Move;
  onClose: () => void;
}) {
  const act = useAct(moveProduct, {
    done: (p) => {
      onClose();
      toast(`${p.name} is ${p.state}`);
    },
  });
  const [to, name, about] = move;
  return (
    <Confirm
      open
      onClose={onClose}
      title={`${name}: ${product.name}`}
      about={about}
      act={name}
      busy={act.isPending}
      onAct={() => act.mutate({ params: { id: product.id }, body: { state: to, version: product.version } })}
    />
  );
}
