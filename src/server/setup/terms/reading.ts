import type { FieldFault } from '../../../contract/explain';
import type { RewardIn, SetChange } from '../../../contract/setup/rate-book';
import { parseAmount } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { parsePercent } from '../../../core/money/percent';
import { placeOf, type Column } from '../../../core/terms/cell';
import { faultsOf } from '../../../core/terms/conflict';
import { termsAt } from '../../../core/terms/members';
import type { Pay, Rate, Reward, What } from '../../../core/terms/rate';
import { isId, type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, refuse } from '../../ground/http/problem';
import { productById } from '../../registers/catalogue/store';
import { affiliateNames } from '../../registers/people/names';
import { theProgramme } from '../../registers/programme/record';
import { readWall } from '../../registers/programme/wall';
import { setById } from './sets';
import { theTerms } from './store';

function payOf(
  base: string,
  {
    kind,
    value,
    also,
    pointer,
    faults,
  }: {
    kind: Pay['type'];
    value: string;
    also?: Record<string, string> | undefined;
    pointer: string;
    faults: FieldFault[];
  },
): Pay {
  if (kind === 'percent') {
    const parsed = parsePercent(value);
    if (parsed.ok) return { type: 'percent', ppm: parsed.value };
    faults.push({ pointer, detail: `Reward: ${parsed.reason}`, example: parsed.example });
    return { type: 'percent', ppm: 0 };
  }
  const parsed = parseAmount(value, base);
  if (!parsed.ok) faults.push({ pointer, detail: `Reward: ${parsed.reason}`, example: parsed.example });
  const amount = parsed.ok ? parsed.value : 0;
  const others = Object.entries(also ?? {})
    .filter(([, text]) => text.trim() !== '')
    .flatMap(([currency, text]): [string, number][] => {
      const known = isCurrency(currency)
        ? parseAmount(text, currency)
        : { ok: false as const, reason: `currency ${currency} is not known`, example: 'USD' };
      if (known.ok) return [[currency, known.value]];
      faults.push({
        pointer: `${pointer}/also`,
        detail: `Reward in ${currency}: ${known.reason}`,
        example: known.example,
      });
      return [];
    });
  return { type: kind, amount, ...(others.length ? { also: Object.fromEntries(others) } : {}) };
}

function rewardOf(base: string, input: RewardIn, faults: FieldFault[]): Reward {
  if (input.kind !== 'bands') {
    if (!input.value?.trim()) faults.push({ pointer: '/reward', detail: 'Reward is empty', example: '12.5' });
    return input.value?.trim()
      ? payOf(base, { kind: input.kind, value: input.value, also: input.also, pointer: '/reward', faults })
      : { type: 'percent', ppm: 0 };
  }
  return {
    type: 'bands',
    bands: (input.bands ?? []).map((band, i) => {
      const from = parseAmount(band.from, base);
      if (!from.ok)
        faults.push({
          pointer: '/bands',
          detail: `Band ${i + 1}, from: ${from.reason}`,
          example: from.example,
        });
      return {
        from: from.ok ? from.value : 0,
        pay: payOf(base, { kind: band.kind, value: band.value, pointer: '/bands', faults }),
      };
    }),
  };
}

/** A column of the rate book from what a call names. @throws Problem for somebody that does not exist */
export function readColumn(app: App, kind: Column['of'], id: Id<'affiliate' | 'set'> | undefined): Column {
  if (kind === 'everyone') return { of: kind };
  if (!id) throw refuse('column', 'Column: it is not said who', 'the id of a card, group, tag or affiliate');
  if (kind === 'affiliate') {
    if (!isId(id, 'affiliate') || !affiliateNames(app, [id]).has(id))
      throw refuse('column', 'Column: this affiliate does not exist', 'an affiliate of the roster');
    return { of: kind, id, terms: termsAt(theTerms(app).roll, id, app.clock.now()) };
  }
  if (!isId(id, 'set'))
    throw refuse('column', 'Column: this is none of a card, group or tag', 'another column');
  const set = setById(app, id);
  if (set.of !== kind || set.removedAt !== null)
    throw refuse('column', `Column: ${set.name} was removed meanwhile`, 'another column');
  return { of: kind, id };
}

function readWhat(app: App, row: SetChange['row']): What {
  switch (row.of) {
    case 'everything':
      return { type: 'everything' };
    case 'kind':
      return { type: 'kind', kind: row.id ?? '' };
    case 'step':
      return { type: 'step', step: row.id ?? '' };
    case 'product': {
      const product = row.id && isId(row.id, 'product') && productById(app, row.id);
      if (!product) throw refuse('row', 'Row: this product does not exist', 'a product of the list');
      if (product.state === 'retired')
        throw refuse(
          'row',
          `${product.name} was retired meanwhile; bring it back before its terms change`,
          'another product',
        );
      return { type: 'product', product: product.id };
    }
  }
}

/**
 * Reads a rate as typed. Starts of the past are allowed: they reach orders that are reported late, and nothing that is granted.
 * @param otherwise the start where none is typed @throws Problem `invalid` naming every field at fault
 */
export function readRate(app: App, input: SetChange, otherwise: number): Rate {
  const { base } = theProgramme(app);
  const faults: FieldFault[] = [];
  const what = readWhat(app, input.row);
  const column = readColumn(app, input.column.of, input.column.id);
  const reward = rewardOf(base, input.reward, faults);
  let cap: number | null = null;
  if (input.cap?.trim()) {
    const parsed = parseAmount(input.cap, base);
    if (parsed.ok) cap = parsed.value;
    else faults.push({ pointer: '/cap', detail: `Cap: ${parsed.reason}`, example: parsed.example });
  }
  const from = input.from ? readWall(app, input.from, 'from', 'Start') : otherwise;
  const until = input.until ? readWall(app, input.until, 'until', 'End') : null;
  const rate: Rate = {
    id: newId('rate'),
    mode: input.mode,
    ...placeOf(column, what),
    what,
    event: input.event,
    payments: input.event === 'renewal' ? (input.payments ?? null) : null,
    reward,
    cap,
    label: input.label?.trim() ?? '',
    from,
    until,
  };
  if (!faults.length)
    faults.push(
      ...faultsOf(rate).map((f) => ({ pointer: `/${f.field}`, detail: f.detail, example: f.example })),
    );
  if (faults.length) throw invalid(faults);
  return rate;
}
