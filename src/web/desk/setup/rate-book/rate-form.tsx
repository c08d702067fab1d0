import { useState } from 'react';
import { draftRate, type DraftOut, type SetChange } from '../../../../contract/setup/rate-book';
import { parseAmount } from '../../../../core/money/amount';
import { parsePercent } from '../../../../core/money/percent';
import { placeOf } from '../../../../core/terms/cell';
import type { Change } from '../../../../core/terms/draft';
import type { Pay, Reward, What } from '../../../../core/terms/rate';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Labelled } from '../../../kit/labelled';
import { Hint } from '../../../kit/note';
import { useProgramme } from '../../../kit/programme';
import { WallField } from '../../../kit/wall-field';
import { EstimateWords } from './draft';
import { useEstimate } from './estimate';

export interface PlaceOfRate {
  column: SetChange['column'];
  row: SetChange['row'];
  event: SetChange['event'];
  who: string;
  what: string;
}

type Kind = 'percent' | 'flat-order' | 'flat-unit' | 'bands';
interface BandIn {
  from: string;
  kind: 'percent' | 'flat-order' | 'flat-unit';
  value: string;
}
const field = 'w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

/** Reads an order of words as somebody types it into a cell: "12.5", "12.5 %", "€6", "6.00 EUR". */
export function readTyped(text: string, base: string): SetChange['reward'] | null {
  const plain = text.trim();
  if (parsePercent(plain).ok) return { kind: 'percent', value: plain.replace(/\s*%$/, '') };
  const flat = plain.replace(new RegExp(`^(€|£|\\$|${base})\\s*|\\s*(€|£|\\$|${base})$`, 'gi'), '');
  return flat !== plain && parseAmount(flat, base).ok ? { kind: 'flat-order', value: flat } : null;
}

/** The change that is being typed, for the estimate; null while it cannot be read. */
export function typedChange(
  place: PlaceOfRate,
  mode: SetChange['mode'],
  {
    reward,
    cap,
    payments,
    base,
  }: { reward: SetChange['reward']; cap: string; payments: SetChange['payments']; base: string },
): Change | null {
  const pay = (kind: Exclude<Kind, 'bands'>, value: string): Pay | null => {
    const parsed = kind === 'percent' ? parsePercent(value) : parseAmount(value, base);
    if (!parsed.ok) return null;
    return kind === 'percent' ? { type: 'percent', ppm: parsed.value } : { type: kind, amount: parsed.value };
  };
  let read: Reward | null;
  if (reward.kind === 'bands') {
    const bands = (reward.bands ?? []).map((b) => {
      const from = parseAmount(b.from, base);
      const p = pay(b.kind, b.value);
      return from.ok && p ? { from: from.value, pay: p } : null;
    });
    read = bands.length && bands.every((b) => b !== null) ? { type: 'bands', bands } : null;
  } else read = pay(reward.kind, reward.value ?? '');
  if (!read) return null;
  const capped = cap.trim() ? parseAmount(cap, base) : null;
  const what =
    place.row.of === 'everything'
      ? { type: 'everything' as const }
      : ({ type: place.row.of, [place.row.of]: place.row.id } as unknown as What);
  const column =
    place.column.of === 'everyone'
      ? { of: 'everyone' as const }
      : {
          of: place.column.of,
          id: place.column.id!,
          terms: { affiliate: place.column.id!, card: null, group: null, tags: [] },
        };
  return {
    op: 'add',
    rate: {
      id: 'typed',
      mode,
      ...placeOf(column as never, what),
      what,
      event: place.event,
      payments: payments ?? null,
      reward: read,
      cap: capped?.ok ? capped.value : null,
      from: 0,
      until: null,
      label: '',
    },
  };
}

/** Everything a rate can say: a plain reward or bands, cap, payments, start and end, or an uplift for a time. */
export function RateForm({
  place,
  draft,
  mode: begin,
  onClose,
}: {
  place: PlaceOfRate;
  draft: DraftOut | null;
  mode: SetChange['mode'];
  onClose: () => void;
}) {
  const { base } = useProgramme();
  const [mode, setMode] = useState<SetChange['mode']>(begin);
  const [kind, setKind] = useState<Kind>('percent');
  const [value, setValue] = useState('');
  const [also, setAlso] = useState<{ currency: string; value: string }[]>([]);
  const [bands, setBands] = useState<BandIn[]>([{ from: '', kind: 'percent', value: '' }]);
  const [cap, setCap] = useState('');
  const [range, setRange] = useState({
    on: false,
    first: '2',
    last: '',
    after: 'nothing' as 'nothing' | 'next',
  });
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const [label, setLabel] = useState('');
  const [fault, setFault] = useState<Record<string, string>>({});
  const put = useAct(draftRate, { quiet: true, done: onClose });
  const reward: SetChange['reward'] =
    kind === 'bands'
      ? { kind, bands }
      : {
          kind,
          value,
          ...(kind !== 'percent' && also.length
            ? {
                also: Object.fromEntries(
                  also.filter((a) => a.currency).map((a) => [a.currency.toUpperCase(), a.value]),
                ),
              }
            : {}),
        };
  const payments =
    place.event === 'renewal' && range.on
      ? { first: Number(range.first) || 2, last: range.last ? Number(range.last) : null, after: range.after }
      : null;
  const estimate = useEstimate(
    draft?.version ?? 0,
    typedChange(place, mode, { reward, cap, payments, base }),
  );
  const submit = () =>
    put.mutate(
      {
        body: {
          column: place.column,
          row: place.row,
          event: place.event,
          mode,
          reward,
          payments,
          cap: cap || null,
          from: from || null,
          until: until || null,
          label,
        },
      },
      {
        onError: (thrown) =>
          setFault(
            thrown instanceof Refused
              ? Object.fromEntries(
                  thrown.problem.errors.length
                    ? thrown.problem.errors.map((e) => [
                        e.pointer.split('/')[1] ?? '',
                        e.example ? `${e.detail}, such as “${e.example}”` : e.detail,
                      ])
                    : [['', thrown.problem.detail]],
                )
              : { '': 'Something went wrong in this page; what you typed is kept.' },
          ),
      },
    );
  // not a component of its own: made anew at each key it would be announced at each key
  const faultAt = (of: string) =>
    fault[of] ? (
      <p role="alert" className="mt-1 text-madder">
        {fault[of]}
      </p>
    ) : null;
  const unit = kind === 'percent' ? '%' : base;
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={mode === 'base' ? 'Set a rate' : 'Plan an uplift'}
      about={
        <>
          {place.what}, <b className="font-semibold">{place.who}</b>. It goes into your draft; nothing counts
          until the draft is saved.
        </>
      }
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          setFault({});
          submit();
        }}
      >
        <div className="grid grid-cols-3 gap-3">
          <Labelled>
            What it is
            <select
              value={mode}
              onChange={(e) => {
                setMode(e.target.value as SetChange['mode']);
                if (kind === 'bands') setKind('percent');
              }}
              className={field}
            >
              <option value="base">A rate of the ladder</option>
              <option value="up-to">An uplift, up to</option>
              <option value="plus">An uplift, on top</option>
            </select>
          </Labelled>
          <Labelled>
            Pays
            <select value={kind} onChange={(e) => setKind(e.target.value as Kind)} className={field}>
              <option value="percent">Percent of the value</option>
              <option value="flat-order">
                A flat amount{' '}
                {place.event === 'lead' ? 'a lead' : place.event === 'click' ? 'a click' : 'an order'}
              </option>
              <option value="flat-unit">A flat amount a unit</option>
              {mode === 'base' && <option value="bands">By the order’s value</option>}
            </select>
          </Labelled>
          {kind !== 'bands' && (
            <Labelled>
              {kind === 'percent' ? 'Percent' : `Amount in ${base}`}
              <span className="relative block">
                <input
                  autoFocus
                  value={value}
                  onChange={(e) => setValue(e.target.value)}
                  placeholder={kind === 'percent' ? '12.5' : '6.00'}
                  className={field}
                  aria-invalid={fault.reward ? true : undefined}
                />
                <span className="pointer-events-none absolute top-[6px] right-3 font-normal text-ink3">
                  {unit}
                </span>
              </span>
            </Labelled>
          )}
        </div>
        {faultAt('reward')}
        {faultAt('column')}
        {faultAt('row')}
        {faultAt('what')}
        {faultAt('who')}
        {faultAt('')}
        {kind === 'bands' && (
          <fieldset>
            <legend className="mb-1 font-semibold text-ink2">
              Order bands: the highest one at or below the order’s value sets the reward for the whole of it;
              an order of exactly the threshold belongs to it
            </legend>
            {bands.map((b, i) => (
              <div key={i} className="mb-1 grid grid-cols-[1fr_1.4fr_1fr_auto] items-center gap-2">
                <input
                  aria-label={`Band ${i + 1}, from`}
                  value={b.from}
                  placeholder="from 60.00"
                  onChange={(e) =>
                    setBands(bands.map((x, n) => (n === i ? { ...x, from: e.target.value } : x)))
                  }
                  className={field}
                />
                <select
                  aria-label={`Band ${i + 1}, pays`}
                  value={b.kind}
                  onChange={(e) =>
                    setBands(
                      bands.map((x, n) => (n === i ? { ...x, kind: e.target.value as BandIn['kind'] } : x)),
                    )
                  }
                  className={field}
                >
                  <option value="percent">percent</option>
                  <option value="flat-order">flat an order</option>
                  <option value="flat-unit">flat a unit</option>
                </select>
                <input
                  aria-label={`Band ${i + 1}, reward`}
                  value={b.value}
                  placeholder={b.kind === 'percent' ? '10' : '5.00'}
                  onChange={(e) =>
                    setBands(bands.map((x, n) => (n === i ? { ...x, value: e.target.value } : x)))
                  }
                  className={field}
                />
                <Button
                  look="bare"
                  aria-label={`Take band ${i + 1} out`}
                  disabled={bands.length === 1}
                  onClick={() => setBands(bands.filter((_, n) => n !== i))}
                >
                  Take out
                </Button>
              </div>
            ))}
            <Button
              look="bare"
              onClick={() => setBands([...bands, { from: '', kind: 'percent', value: '' }])}
            >
              One more band
            </Button>
            {faultAt('bands')}
          </fieldset>
        )}
        {kind !== 'percent' && kind !== 'bands' && (
          <div>
            {also.map((a, i) => (
              <div key={i} className="mb-1 grid grid-cols-[80px_1fr_auto] gap-2">
                <input
                  aria-label="Currency"
                  maxLength={3}
                  value={a.currency}
                  placeholder="USD"
                  onChange={(e) =>
                    setAlso(
                      also.map((x, n) => (n === i ? { ...x, currency: e.target.value.toUpperCase() } : x)),
                    )
                  }
                  className={field}
                />
                <input
                  aria-label="Amount in it"
                  value={a.value}
                  placeholder="6.50"
                  onChange={(e) =>
                    setAlso(also.map((x, n) => (n === i ? { ...x, value: e.target.value } : x)))
                  }
                  className={field}
                />
                <Button look="bare" onClick={() => setAlso(also.filter((_, n) => n !== i))}>
                  Take out
                </Button>
              </div>
            ))}
            <Button look="bare" onClick={() => setAlso([...also, { currency: '', value: '' }])}>
              Another amount for orders in another currency
            </Button>
          </div>
        )}
        {place.event === 'renewal' && (
          <div>
            <label className="flex items-center gap-2 font-semibold text-ink2">
              <input
                type="checkbox"
                checked={range.on}
                onChange={(e) => setRange({ ...range, on: e.target.checked })}
              />{' '}
              Only some payments
            </label>
            {range.on && (
              <div className="mt-1 flex flex-wrap items-center gap-2">
                payments{' '}
                <input
                  aria-label="First payment"
                  value={range.first}
                  onChange={(e) => setRange({ ...range, first: e.target.value })}
                  className={`${field} w-14!`}
                  inputMode="numeric"
                />{' '}
                to{' '}
                <input
                  aria-label="Last payment, empty for all that follow"
                  value={range.last}
                  placeholder="all"
                  onChange={(e) => setRange({ ...range, last: e.target.value })}
                  className={`${field} w-14!`}
                  inputMode="numeric"
                />{' '}
                and after them{' '}
                <select
                  aria-label="Afterwards"
                  value={range.after}
                  onChange={(e) => setRange({ ...range, after: e.target.value as 'nothing' })}
                  className={`${field} w-auto!`}
                >
                  <option value="nothing">nothing</option>
                  <option value="next">the next rate down the ladder</option>
                </select>
              </div>
            )}
            <Hint className="mt-1">2 is the first renewal</Hint>
            {faultAt('payments')}
          </div>
        )}
        <div className="grid grid-cols-2 gap-3">
          <WallField label="Begins" value={from} onChange={setFrom} empty="with the draft" />
          <WallField label="Ends, exclusive" value={until} onChange={setUntil} empty="open" />
        </div>
        {faultAt('from')}
        {faultAt('until')}
        <div className="grid grid-cols-2 gap-3">
          <Labelled>
            Name, for your eyes only
            <input
              value={label}
              maxLength={80}
              onChange={(e) => setLabel(e.target.value)}
              placeholder={mode === 'base' ? 'Features the wheel in May' : 'Spring week'}
              className={field}
            />
          </Labelled>
          {mode === 'base' && (
            <Labelled>
              At most an order, if you wish
              <input
                value={cap}
                onChange={(e) => setCap(e.target.value)}
                placeholder={`20.00 ${base}`}
                className={field}
              />
            </Labelled>
          )}
        </div>
        {faultAt('cap')}
        {faultAt('label')}
        <p className="text-ink2">
          <EstimateWords of={estimate} />
        </p>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={put.isPending}>
            Put into the draft
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
