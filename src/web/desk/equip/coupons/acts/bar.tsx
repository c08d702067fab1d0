import type { CouponOut } from '../../../../../contract/equip/coupons';
import { Button } from '../../../../kit/button';
import { Menu } from '../../../../kit/menu';
import { Bar, BarEnd } from '../../../../kit/place';

export type CouponAct = 'new' | 'edit' | 'relaunch' | 'said' | 'refused' | 'away' | 'back';

/** The acts on the coupon that is looked at. */
export function CouponBar({ coupon, begin }: { coupon: CouponOut; begin: (act: CouponAct) => void }) {
  return (
    <Bar>
      <Button keyName="E" disabled={coupon.removed} onClick={() => begin('edit')}>
        Change
      </Button>
      <Button keyName="R" onClick={() => begin('relaunch')}>
        Launch again
      </Button>
      <Button keyName="S" onClick={() => begin('said')}>
        It is set up
      </Button>
      <Menu
        trigger={<Button>More…</Button>}
        side="top"
        items={
          [
            ['refused', 'The shop refuses it'],
            coupon.removed ? ['back', 'Bring it back'] : ['away', 'Take it away'],
          ] as const
        }
        onPick={begin}
      />
      <BarEnd>
        <kbd>J</kbd> <kbd>K</kbd> move · <kbd>N</kbd> new · <kbd>?</kbd> all keys
      </BarEnd>
    </Bar>
  );
}
