import type { ReactNode } from 'react';
import { Button } from '../../../kit/button';
import { TextLine } from '../../../kit/inputs';
import { Hint } from '../../../kit/note';
import { Select } from '../../../kit/select';
import { emptyBand, type Band, type TypedRate } from './rate-typed';

/** A part of the form: what is typed, setting some of it, and the fault of a field where it stands. */
export interface RatePart {
  typed: TypedRate;
  put: (more: Partial<TypedRate>) => void;
  faultAt: (field: string) => ReactNode;
}

const bandKinds = [
  ['percent', 'percent'],
  ['flat-order', 'flat an order'],
  ['flat-unit', 'flat a unit'],
] as const;

/** A list with one of its items changed. */
const changed = <T,>(list: readonly T[], index: number, more: Partial<T>): T[] =>
  list.map((item, n) => (n === index ? { ...item, ...more } : item));

/** Rewards by the order’s value. */
export function BandFields({ typed: { bands }, put, faultAt }: RatePart) {
  const set = (index: number, more: Partial<Band>) => put({ bands: changed(bands, index, more) });
  return (
    <fieldset>
      <legend className="mb-1 font-semibold text-ink2">
        Order bands: the highest one at or below the order’s value sets the reward for the whole of it; an
        order of exactly the threshold belongs to it
      </legend>
      {bands.map((b, i) => (
        <div key={i} className="mb-1 grid grid-cols-[1fr_1.4fr_1fr_auto] items-center gap-2">
          <TextLine
            aria-label={`Band ${i + 1}, from`}
            value={b.from}
            placeholder="from 60.00"
            onText={(from) => set(i, { from })}
          />
          <Select
            label={`Band ${i + 1}, pays`}
            value={b.kind}
            options={bandKinds}
            onPick={(kind) => set(i, { kind })}
          />
          <TextLine
            aria-label={`Band ${i + 1}, reward`}
            value={b.value}
            placeholder={b.kind === 'percent' ? '10' : '5.00'}
            onText={(value) => set(i, { value })}
          />
          <Button
            look="bare"
            aria-label={`Take band ${i + 1} out`}
            disabled={bands.length === 1}
            onClick={() => put({ bands: bands.filter((_, n) => n !== i) })}
          >
            Take out
          </Button>
        </div>
      ))}
      <Button look="bare" onClick={() => put({ bands: [...bands, emptyBand] })}>
        One more band
      </Button>
      {faultAt('bands')}
    </fieldset>
  );
}

/** Flat amounts for orders in other currencies. */
export function AlsoFields({ typed: { also }, put }: RatePart) {
  return (
    <div>
      {also.map((a, i) => (
        <div key={i} className="mb-1 grid grid-cols-[80px_1fr_auto] gap-2">
          <TextLine
            aria-label="Currency"
            maxLength={3}
            value={a.currency}
            placeholder="USD"
            onText={(text) => put({ also: changed(also, i, { currency: text.toUpperCase() }) })}
          />
          <TextLine
            aria-label="Amount in it"
            value={a.value}
            placeholder="6.50"
            onText={(value) => put({ also: changed(also, i, { value }) })}
          />
          <Button look="bare" onClick={() => put({ also: also.filter((_, n) => n !== i) })}>
            Take out
          </Button>
        </div>
      ))}
      <Button look="bare" onClick={() => put({ also: [...also, { currency: '', value: '' }] })}>
        Another amount for orders in another currency
      </Button>
    </div>
  );
}

/** Which payments of a renewal it is for. */
export function PaymentFields({ typed: { range }, put, faultAt }: RatePart) {
  const set = (more: Partial<typeof range>) => put({ range: { ...range, ...more } });
  return (
    <div>
      <label className="flex items-center gap-2 font-semibold text-ink2">
        <input type="checkbox" checked={range.on} onChange={(e) => set({ on: e.target.checked })} /> Only some
        payments
      </label>
      {range.on && (
        <div className="mt-1 flex flex-wrap items-center gap-2">
          payments{' '}
          <TextLine
            aria-label="First payment"
            value={range.first}
            onText={(first) => set({ first })}
            className="w-14!"
            inputMode="numeric"
          />{' '}
          to{' '}
          <TextLine
            aria-label="Last payment, empty for all that follow"
            value={range.last}
            placeholder="all"
            onText={(last) => set({ last })}
            className="w-14!"
            inputMode="numeric"
          />{' '}
          and after them{' '}
          <Select
            label="Afterwards"
            value={range.after}
            options={[
              ['nothing', 'nothing'],
              ['next', 'the next rate down the ladder'],
            ]}
            onPick={(after) => set({ after })}
            className="w-auto"
          />
        </div>
      )}
      <Hint className="mt-1">2 is the first renewal</Hint>
      {faultAt('payments')}
    </div>
  );
}
