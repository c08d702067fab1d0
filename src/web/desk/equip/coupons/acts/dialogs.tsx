import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import {
  relaunchCoupon,
  removeCoupon,
  sayCoupon,
  type CouponOut,
} from '../../../../../contract/equip/coupons';
import { momentOfWall } from '../../../../../core/calendar/wall';
import { useAct } from '../../../../kit/act';
import { Dialog, SubmitFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { TextLine } from '../../../../kit/inputs';
import { faultInWords } from '../../../../kit/keeper';
import { Labelled } from '../../../../kit/labelled';
import { Pair } from '../../../../kit/layout';
import { useProgramme } from '../../../../kit/programme';
import { WallField } from '../../../../kit/wall-field';
import { CouponForm } from '../form';
import type { CouponAct } from './bar';

interface Props {
  act: CouponAct;
  coupon: CouponOut | null;
  products: readonly { id: string; name: string }[];
  onClose: () => void;
}

/** What is done to a coupon: a form, new dates, or at once. */
export function CouponDialog({ act, coupon, products, onClose }: Props) {
  if (act === 'new' || act === 'edit')
    return <CouponForm coupon={coupon} products={products} onClose={onClose} />;
  if (!coupon) return null;
  if (act === 'relaunch') return <Relaunch coupon={coupon} onClose={onClose} />;
  return <AtOnce act={act} coupon={coupon} onDone={onClose} />;
}

/** What needs no question: it can be said otherwise, or taken back. */
function AtOnce({
  act,
  coupon: { id, code },
  onDone,
}: {
  act: 'said' | 'refused' | 'away' | 'back';
  coupon: CouponOut;
  onDone: () => void;
}) {
  const remove = useAct(removeCoupon, {
    done: (c) =>
      toast(`${code} ${c.removed ? 'taken away' : 'is back'}`, {
        action: {
          label: 'Undo',
          onClick: () => remove.mutate({ params: { id }, body: { on: !c.removed } }),
        },
      }),
  });
  const say = useAct(sayCoupon, { done: (c) => toast(`${code}: ${c.shopSays}`) });
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    if (act === 'said' || act === 'refused') say.mutate({ params: { id }, body: { what: act } });
    else remove.mutate({ params: { id }, body: { on: act === 'away' } });
    onDone();
  }, [act, id, onDone, remove, say]);
  return null;
}

function Relaunch({ coupon, onClose }: { coupon: CouponOut; onClose: () => void }) {
  const { zone } = useProgramme();
  const [code, setCode] = useState(coupon.code);
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const act = useAct(relaunchCoupon, {
    done: (c) => {
      toast(`${c.code} is launched again`);
      onClose();
    },
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Launch ${coupon.code} again`}
      about={`Another coupon that gives the same, ${coupon.says}, with dates of its own. What came of the first stays with it.`}
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          setFault(null);
          act.mutate({
            params: { id: coupon.id },
            body: { code, from: momentOfWall(from, zone), until: momentOfWall(until, zone) },
          });
        }}
      >
        <FormFault>{fault}</FormFault>
        <Labelled>
          Code
          <TextLine autoFocus value={code} maxLength={40} onText={setCode} />
        </Labelled>
        <Pair>
          <WallField label="Begins" value={from} onChange={setFrom} empty="at once" />
          <WallField label="Ends, exclusive" value={until} onChange={setUntil} empty="open" />
        </Pair>
        <SubmitFoot onLeave={onClose} busy={act.isPending}>
          Launch it
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
