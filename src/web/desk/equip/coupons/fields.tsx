import type { CouponOut } from '../../../../contract/equip/coupons';
import { momentOfWall, wallOf } from '../../../../core/calendar/wall';
import { couponGives, type CouponGives } from '../../../../core/material/lists';
import { isId } from '../../../../core/text/id';
import { TextArea, TextLine } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { Pair } from '../../../kit/layout';
import { Pick } from '../../../kit/pick';
import { useProgramme } from '../../../kit/programme';
import { SelectField } from '../../../kit/select';
import { Tick, Ticks } from '../../../kit/ticks';
import { WallField } from '../../../kit/wall-field';
import { AudienceField } from '../../shared/audience-field';
import { findAffiliates } from '../../shared/find-affiliates';
import type { Typed } from './typed';

interface Props {
  typed: Typed;
  put: (field: string, value: unknown) => void;
  products: readonly { id: string; name: string }[];
  known: CouponOut | null;
}

const gives: Record<CouponGives, string> = {
  percent: 'Percent off',
  amount: 'An amount off',
  shipping: 'Free shipping',
  other: 'Something else',
};

/** Everything a coupon has. */
export function CouponFields(props: Props) {
  const { typed, put, products } = props;
  return (
    <>
      <Gives {...props} />
      <Ticks
        legend="On, none ticked for everything"
        options={products.map((p) => [p.id, p.name] as const)}
        ticked={typed.products}
        onChange={(ids) =>
          put(
            'products',
            ids.filter((id) => isId(id, 'product')),
          )
        }
      />
      <ForWhom {...props} />
      <Dates {...props} />
      <Pair>
        <Labelled>
          Landing page of its links
          <TextLine
            value={typed.landing}
            maxLength={500}
            onText={(text) => put('landing', text)}
            placeholder="empty: the page of its product"
          />
        </Labelled>
        <Labelled>
          Terms, as affiliates and buyers read them
          <TextArea
            rows={2}
            value={typed.terms}
            onText={(text) => put('terms', text)}
            placeholder="Once for each buyer."
          />
        </Labelled>
      </Pair>
      <Tick on={typed.applied} onChange={(on) => put('applied', on)}>
        The shop applies it by itself from the link: links hand it over as coupon=
        {typed.code.trim().toUpperCase() || 'CODE'}; else buyers have to type it
      </Tick>
      <Tick on={typed.active} onChange={(on) => put('active', on)}>
        Switched on
      </Tick>
    </>
  );
}

function Gives({ typed, put }: Props) {
  const { base } = useProgramme();
  const hasValue = typed.gives === 'percent' || typed.gives === 'amount';
  return (
    <div className="grid grid-cols-[150px_170px_1fr_130px] gap-3">
      <Labelled>
        Code
        <TextLine
          autoFocus
          value={typed.code}
          maxLength={40}
          onText={(text) => put('code', text)}
          placeholder="WHEEL10"
          className="font-mono uppercase"
        />
      </Labelled>
      <SelectField
        label="The buyer gets"
        value={typed.gives}
        options={couponGives.map((g) => [g, gives[g]] as const)}
        onPick={(next) => put('gives', next)}
      />
      {hasValue && (
        <Labelled>
          {typed.gives === 'percent' ? 'Percent' : `Amount in ${base}`}
          <TextLine
            value={typed.value}
            maxLength={30}
            onText={(text) => put('value', text)}
            placeholder={typed.gives === 'percent' ? '10' : '5.00'}
          />
        </Labelled>
      )}
      {typed.gives === 'other' && (
        <Labelled>
          In words
          <TextLine
            value={typed.words}
            maxLength={160}
            onText={(text) => put('words', text)}
            placeholder="two kilos of clay with it"
          />
        </Labelled>
      )}
      {typed.gives === 'shipping' && <span />}
      <Labelled>
        Orders from
        <TextLine
          value={typed.least}
          maxLength={30}
          onText={(text) => put('least', text)}
          placeholder="any value"
        />
      </Labelled>
    </div>
  );
}

/** Whose own it is; nobody's is for an audience. */
function ForWhom({ typed, put, known }: Props) {
  const owner = typed.owner === known?.owner ? (known?.ownerName ?? null) : null;
  return (
    <div>
      <p>
        <span className="font-semibold text-ink2">The own of</span>{' '}
        <Pick
          label="Owner"
          find={findAffiliates}
          onPick={({ id, name }) => {
            put('owner', id);
            put('ownerTyped', name);
          }}
        >
          <span className="private">
            {typed.owner === null
              ? 'nobody'
              : typeof typed.ownerTyped === 'string'
                ? typed.ownerTyped
                : (owner ?? 'somebody')}
          </span>
        </Pick>
        {typed.owner !== null && (
          <>
            {' '}
            <button type="button" className="link" onClick={() => put('owner', null)}>
              nobody’s
            </button>
            <span className="text-ink3"> · only they see it, whoever may use others</span>
          </>
        )}
      </p>
      {typed.owner === null && (
        <div className="mt-2">
          <AudienceField
            value={typed.audience}
            onChange={(audience) => put('audience', audience)}
            known={known?.named ?? []}
          />
        </div>
      )}
    </div>
  );
}

function Dates({ typed, put }: Props) {
  const { zone } = useProgramme();
  const textOf = (at: number | null) => (at === null ? '' : wallOf(at, zone));
  return (
    <Pair>
      <WallField
        label="Begins"
        value={textOf(typed.from)}
        onChange={(text) => put('from', momentOfWall(text, zone))}
        empty="at once"
      />
      <WallField
        label="Ends, exclusive"
        value={textOf(typed.until)}
        onChange={(text) => put('until', momentOfWall(text, zone))}
        empty="open"
      />
    </Pair>
  );
}
