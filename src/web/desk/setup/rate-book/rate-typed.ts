import type { SetChange } from '../../../../contract/setup/rate-book';
import { formatMoney, parseAmount } from '../../../../core/money/amount';
import { parsePercent } from '../../../../core/money/percent';
import { placeOf, type Column } from '../../../../core/terms/cell';
import type { Change } from '../../../../core/terms/draft';
import type { PayKind } from '../../../../core/terms/lists';
import type { Pay, Reward, What } from '../../../../core/terms/rate';
import { isId } from '../../../../core/text/id';
import { Refused } from '../../../kit/api';

export interface PlaceOfRate {
  column: SetChange['column'];
  row: SetChange['row'];
  event: SetChange['event'];
  who: string;
  what: string;
}

export type Mode = SetChange['mode'];
export type RewardKind = PayKind | 'bands';

export interface Band {
  from: string;
  kind: PayKind;
  value: string;
}

/** Which payments of a renewal a rate is for, as it is typed. */
export interface Range {
  on: boolean;
  first: string;
  last: string;
  after: 'nothing' | 'next';
}

/** A rate as the form holds it. */
export interface TypedRate {
  mode: Mode;
  kind: RewardKind;
  value: string;
  also: { currency: string; value: string }[];
  bands: Band[];
  cap: string;
  range: Range;
  from: string;
  until: string;
  label: string;
}

export const emptyBand: Band = { from: '', kind: 'percent', value: '' };

export const emptyRate = (mode: Mode): TypedRate => ({
  mode,
  kind: 'percent',
  value: '',
  also: [],
  bands: [emptyBand],
  cap: '',
  range: { on: false, first: '2', last: '', after: 'nothing' },
  from: '',
  until: '',
  label: '',
});

/** How a currency is written beside an amount: its code, the sign that is shown with it, and that without a country: USD, US$, $. */
function signsOf(currency: string): string[] {
  const shown = formatMoney({ amount: 0, currency }).replace(/[\d.,\s]/g, '');
  return [currency, shown, shown.replace(/^[A-Z]+(?=[^A-Z])/, '')];
}

/** Reads an order of words as somebody types it into a cell: "12.5", "12.5 %", "€6", "6.00 EUR". An amount in another currency than base is none. */
export function readTyped(text: string, base: string): SetChange['reward'] | null {
  const plain = text.trim();
  if (parsePercent(plain).ok) return { kind: 'percent', value: plain.replace(/\s*%$/, '') };
  const sign = `(?:${signsOf(base).join('|').replace(/\$/g, '\\$&')})`;
  const flat = plain.replace(new RegExp(`^${sign}\\s*|\\s*${sign}$`, 'gi'), '');
  return flat !== plain && parseAmount(flat, base).ok ? { kind: 'flat-order', value: flat } : null;
}

/** The reward as the server takes it. */
export function rewardOf({ kind, value, also, bands }: TypedRate): SetChange['reward'] {
  if (kind === 'bands') return { kind, bands };
  const others = also.filter((a) => a.currency).map((a) => [a.currency.toUpperCase(), a.value]);
  return { kind, value, ...(kind !== 'percent' && also.length ? { also: Object.fromEntries(others) } : {}) };
}

/** Which payments it is for; null for all, and for everything that is no renewal. */
export function paymentsOf({ range }: TypedRate, event: SetChange['event']): SetChange['payments'] {
  if (event !== 'renewal' || !range.on) return null;
  const { first, last, after } = range;
  return { first: Number(first) || 2, last: last ? Number(last) : null, after };
}

/** What is sent of the form. */
export function bodyOf(typed: TypedRate, { column, row, event }: PlaceOfRate): SetChange {
  return {
    column,
    row,
    event,
    mode: typed.mode,
    reward: rewardOf(typed),
    payments: paymentsOf(typed, event),
    cap: typed.cap || null,
    from: typed.from || null,
    until: typed.until || null,
    label: typed.label,
  };
}

/** The faults of a refused rate by field, each with its example; '' is what belongs to none. */
export function faultsByField(thrown: unknown): Record<string, string> {
  if (!(thrown instanceof Refused))
    return { '': 'Something went wrong in this page; what you typed is kept.' };
  const { errors, detail } = thrown.problem;
  if (!errors.length) return { '': detail };
  return Object.fromEntries(
    errors.map((e) => [
      e.pointer.split('/')[1] ?? '',
      e.example ? `${e.detail}, such as “${e.example}”` : e.detail,
    ]),
  );
}

function payOf(kind: PayKind, value: string, base: string): Pay | null {
  const parsed = kind === 'percent' ? parsePercent(value) : parseAmount(value, base);
  if (!parsed.ok) return null;
  return kind === 'percent' ? { type: 'percent', ppm: parsed.value } : { type: kind, amount: parsed.value };
}

function readReward(reward: SetChange['reward'], base: string): Reward | null {
  if (reward.kind !== 'bands') return payOf(reward.kind, reward.value ?? '', base);
  const bands = (reward.bands ?? []).map((b) => {
    const from = parseAmount(b.from, base);
    const pay = payOf(b.kind, b.value, base);
    return from.ok && pay ? { from: from.value, pay } : null;
  });
  return bands.length && bands.every((b) => b !== null) ? { type: 'bands', bands } : null;
}

function whatOf({ of: kind, id = '' }: SetChange['row']): What | null {
  switch (kind) {
    case 'everything':
      return { type: 'everything' };
    case 'kind':
      return { type: 'kind', kind: id };
    case 'product':
      return isId(id, 'product') ? { type: 'product', product: id } : null;
    case 'step':
      return { type: 'step', step: id };
  }
}

function columnOf({ of: kind, id }: SetChange['column']): Column | null {
  if (kind === 'everyone') return { of: kind };
  if (!id) return null;
  if (kind !== 'affiliate') return isId(id, 'set') ? { of: kind, id } : null;
  return isId(id, 'affiliate')
    ? { of: kind, id, terms: { affiliate: id, card: null, group: null, tags: [] } }
    : null;
}

/** The change that is being typed, for the estimate; null while it cannot be read. */
export function typedChange(
  place: PlaceOfRate,
  typed: Pick<SetChange, 'mode' | 'reward' | 'payments'> & { cap?: string },
  base: string,
): Change | null {
  const reward = readReward(typed.reward, base);
  if (!reward) return null;
  const cap = typed.cap?.trim() ? parseAmount(typed.cap, base) : null;
  const what = whatOf(place.row);
  const column = columnOf(place.column);
  if (!what || !column) return null;
  return {
    op: 'add',
    rate: {
      id: 'rat_typed',
      mode: typed.mode,
      ...placeOf(column, what),
      what,
      event: place.event,
      payments: typed.payments ?? null,
      reward,
      cap: cap?.ok ? cap.value : null,
      from: 0,
      until: null,
      label: '',
    },
  };
}
