import { useState } from 'react';
import { toast } from 'sonner';
import type { BodyOf } from '../../../../contract/endpoint';
import { createCoupon, editCoupon, planCoupon, type CouponOut } from '../../../../contract/equip/coupons';
import { momentOfWall } from '../../../../core/calendar/wall';
import { couponFields, couponFieldWords, type CouponField } from '../../../../core/material/coupon';
import { useAct } from '../../../kit/act';
import { shown, useBegun, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { faultInWords } from '../../../kit/keeper';
import { useProgramme } from '../../../kit/programme';
import { WallField } from '../../../kit/wall-field';
import { CouponFields } from './fields';
import { blankCoupon, sentOf, typedOf, type Typed } from './typed';

interface Props {
  coupon: CouponOut | null;
  products: readonly { id: string; name: string }[];
  onClose: () => void;
}

type Changes = BodyOf<typeof planCoupon>['changes'];

const read = (current: unknown): Begun<Typed> => ({
  values: typedOf(current as CouponOut),
  version: (current as CouponOut).version,
});

/** What is typed of a coupon, saving it at once or for later, and what stands in the way. */
function useCouponForm(coupon: CouponOut | null, onClose: () => void) {
  const { zone } = useProgramme();
  const base = useBegun<Typed>(
    coupon ? read(coupon) : { values: blankCoupon, version: 0 },
    (field) => couponFieldWords[field as CouponField] ?? field,
    (value) => (typeof value === 'object' && value !== null ? 'changed' : shown(value)),
  );
  const [typed, setTyped] = useState(base.begun.values);
  const [fault, setFault] = useState<string | null>(null);
  const [later, setLater] = useState<string | null>(null);
  const put = (field: string, value: unknown) => setTyped((all) => ({ ...all, [field]: value }));
  const options = (said: string) => ({
    done: () => {
      toast(said);
      onClose();
    },
    failed: (thrown: unknown) => {
      if (!base.overtake(thrown, read, typed, put)) setFault(faultInWords(thrown));
    },
  });
  const make = useAct(createCoupon, options(`${typed.code.toUpperCase()} is there`));
  const edit = useAct(editCoupon, options('Saved'));
  const plan = useAct(planCoupon, options('Planned; it can be undone until then'));
  const changed = couponFields.filter(
    (field) => JSON.stringify(typed[field]) !== JSON.stringify(base.begun.values[field]),
  );
  const save = () => {
    setFault(null);
    const body = sentOf(typed);
    if (!coupon) return make.mutate({ body });
    const params = { id: coupon.id };
    if (later === null) return edit.mutate({ params, body: { ...body, version: base.begun.version } });
    const at = momentOfWall(later, zone);
    if (at === null) return setFault('Choose the moment at which it is to change.');
    const changes: Changes = Object.fromEntries(changed.map((field) => [field, typed[field]]));
    return plan.mutate({ params, body: { at, changes } });
  };
  const busy = make.isPending || edit.isPending || plan.isPending;
  return {
    typed,
    put,
    fault,
    note: base.note(put),
    later,
    setLater,
    save,
    busy,
    isChanged: changed.length > 0,
  };
}

/** A coupon: what it gives, on what, to whom, when. */
export function CouponForm({ coupon, products, onClose }: Props) {
  const form = useCouponForm(coupon, onClose);
  return (
    <Dialog open wide onClose={onClose} title={coupon ? `Change ${coupon.code}` : 'New coupon'}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          form.save();
        }}
      >
        <FormFault>{form.fault}</FormFault>
        {form.note}
        <CouponFields {...{ typed: form.typed, put: form.put, products }} known={coupon} />
        {form.later !== null && (
          <WallField
            label="Changes on"
            value={form.later}
            onChange={form.setLater}
            empty="choose a day"
            hint="Until then it stays as it is."
          />
        )}
        <DialogFoot>
          {coupon && (
            <Button
              look="bare"
              className="mr-auto"
              onClick={() => form.setLater(form.later === null ? '' : null)}
            >
              {form.later === null ? 'At a later moment…' : 'At once'}
            </Button>
          )}
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={form.busy} disabled={!form.isChanged}>
            {coupon ? (form.later === null ? 'Save' : 'Plan it') : 'Make the coupon'}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
