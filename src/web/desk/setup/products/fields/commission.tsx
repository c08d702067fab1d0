import { useFormContext } from 'react-hook-form';
import { Link } from 'react-router';
import { type ProductOut } from '../../../../../contract/setup/products';
import { Field } from '../../../../kit/form';
import { SelectOf } from '../../../../kit/picked-fields';
import { useProgramme } from '../../../../kit/programme';
import { Part, properties, type Bound, type Values } from './part';

const rewards = (base: string, kind: string, lead: boolean) => [
  ...(lead ? [] : [['percent', 'Percent of the sale'] as const]),
  ['flat', `Flat, ${base} ${lead ? 'a lead' : 'an order'}`] as const,
  ['none', lead ? 'None' : 'None of its own: the programme’s rate'] as const,
  ...(kind === 'book' ? [['book', 'Order bands, as the rate book says'] as const] : []),
];

/** What the product pays everybody; everything finer is in the rate book. */
export function CommissionPart({ bound, product }: { bound: Bound; product: ProductOut | null }) {
  const { watch } = useFormContext<Values>();
  const { base } = useProgramme();
  const [kind, rewardKind, renewalKind] = watch(['kind', 'rewardKind', 'renewalRewardKind']);
  const lead = kind === 'free';
  return (
    <Part title="Commission">
      <SelectOf
        name="rewardKind"
        schema={properties.rewardKind}
        label={kind === 'recurring' ? 'Commission at first' : 'Commission kind'}
        options={rewards(base, product?.rewardKind ?? '', lead)}
        {...bound}
      />
      {rewardKind === 'percent' || rewardKind === 'flat' ? (
        <Field
          name="reward"
          schema={properties.reward}
          label={rewardKind === 'flat' ? `Amount ${lead ? 'a lead' : 'an order'}` : 'Percent'}
          {...bound}
          unit={rewardKind === 'flat' ? base : '%'}
          hint="A change holds from the moment you save; earlier sales keep theirs"
        />
      ) : (
        <span />
      )}
      <RenewalReward kind={kind} product={product} bound={bound} renewalKind={renewalKind} />
      <p className="col-span-2 text-ink2">
        <LockedNote product={product} />
        Bands, caps, ranges of payments, cards, groups and single affiliates are set in the{' '}
        <Link className="link" to="/rates">
          rate book
        </Link>
        .
      </p>
    </Part>
  );
}

/** Which payments are locked against everything finer. */
function LockedNote({ product }: { product: ProductOut | null }) {
  if (product?.locks.length)
    return (
      <>
        <b className="font-semibold">Locked</b> for{' '}
        {product.locks.map((l) => (l === 'sale' ? 'first payments' : 'renewals')).join(' and ')}: cards,
        groups, tags, personal rates and uplifts are skipped.{' '}
      </>
    );
  return '';
}

/** What renewals or further payments earn. */
function RenewalReward({
  kind,
  product,
  bound,
  renewalKind,
}: {
  kind: Values['kind'];
  product: ProductOut | null;
  bound: Bound;
  renewalKind: Values['renewalRewardKind'];
}) {
  const { base } = useProgramme();
  if (!(kind === 'recurring' || kind === 'instalments')) return null;
  return (
    <>
      <SelectOf
        name="renewalRewardKind"
        schema={properties.renewalRewardKind}
        label={kind === 'recurring' ? 'On renewals' : 'On further payments'}
        options={rewards(base, product?.renewalRewardKind ?? '', false)}
        {...bound}
      />
      {renewalKind === 'percent' || renewalKind === 'flat' ? (
        <Field
          name="renewalReward"
          schema={properties.renewalReward}
          label={renewalKind === 'flat' ? 'Amount a payment' : 'Percent'}
          {...bound}
          unit={renewalKind === 'flat' ? base : '%'}
        />
      ) : (
        <span />
      )}
    </>
  );
}
