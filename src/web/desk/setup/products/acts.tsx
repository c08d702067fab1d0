import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  copyProduct,
  moveProduct,
  previewChange,
  type ProductOut,
} from '../../../../contract/setup/products';
import { formatMoney } from '../../../../core/money/amount';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
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
  /** as it is typed */
  price: string;
  saving: boolean;
  discard: () => void;
  onMove: (move: Move) => void;
}

/** Saving what is typed; where nothing is, the other acts on the product. */
export function EditorBar({ product, mayEdit, dirty, price, saving, discard, onMove }: BarProps) {
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
          {product && <LowerPrice product={product} price={price} />}
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

/** What affiliates will earn and how many are told: empty where nothing changes for them. */
function toldInWords({ told, before, after }: ReplyOf<typeof previewChange>): string {
  if (before.amount === after.amount) return '';
  const earns = `An affiliate on everyone’s rate earns ${formatMoney(after)} a sale instead of ${formatMoney(before)}.`;
  return `${earns} ${counted(told, 'affiliate promotes it and is', 'affiliates promote it and are')} told by email.`;
}

/** Says while a lower price is typed what affiliates will earn, and that they are told. */
function LowerPrice({ product, price }: { product: ProductOut; price: string }) {
  const preview = useQuery({
    ...asking(previewChange, { params: { id: product.id }, query: { price } }),
    enabled: product.state === 'live' && price !== product.price && /^\d+([.,]\d+)?$/.test(price.trim()),
  });
  const words = preview.data ? toldInWords(preview.data) : '';
  return words ? (
    <span role="status" className="text-ochre">
      {words}
    </span>
  ) : null;
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
  const preview = useQuery(asking(previewChange, { params: { id: product.id }, query: { state: to } }));
  return (
    <Confirm
      open
      onClose={onClose}
      title={`${name}: ${product.name}`}
      about={`${about} ${preview.data ? toldInWords(preview.data) : ''}`}
      act={name}
      busy={act.isPending}
      onAct={() => act.mutate({ params: { id: product.id }, body: { state: to, version: product.version } })}
    />
  );
}
