import { and, eq, inArray, isNull, ne } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import type { FunnelIn, FunnelOut } from '../../../contract/setup/funnels';
import { parseAmount, toDecimal } from '../../../core/money/amount';
import { faultsOfFunnel, valuePer100 } from '../../../core/pricing/funnel';
import { cellOf } from '../../../core/terms/cell';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem } from '../../ground/http/problem';
import { funnels, funnelSteps } from '../../ground/tables/products';
import { record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { productById } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { openedBy, ordersSince, stepSums } from '../../totals/products';
import { endRatesOf } from '../terms/step-rates';
import { theTerms } from '../terms/store';

type FunnelRecord = typeof funnels.$inferSelect;

type StepRecord = typeof funnelSteps.$inferSelect;

const stepsOf = (app: App, funnel: Id<'funnel'>): StepRecord[] =>
  app.db.select().from(funnelSteps).where(eq(funnelSteps.funnel, funnel)).orderBy(funnelSteps.position).all();

/** What a step was taken for, and what it pays now. */
function stepTaken(app: App, { code, product: id }: StepRecord): FunnelOut['taken'][number] {
  const { base } = theProgramme(app);
  const { book, roll } = theTerms(app);
  const product = productById(app, id)!;
  const sums = stepSums(app, code);
  const cell = cellOf(book, roll, {
    column: { of: 'everyone' },
    row: { what: { type: 'step', step: code }, sold: { product: id, kind: product.kind, step: code } },
    event: 'sale',
    payment: 1,
    at: app.clock.now(),
    currency: base,
  });
  return {
    code,
    name: product.name,
    orders: sums.lines,
    value: { amount: sums.base, currency: base },
    commission: { amount: sums.commission, currency: base },
    rate: cell.full,
  };
}

function show(app: App, row: FunnelRecord): FunnelOut {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const steps = stepsOf(app, row.id);
  const taken = steps.map((s) => stepTaken(app, s));
  const openings = ordersSince(app, row.opening, '');
  const per100 = valuePer100(openings, [
    openedBy(app, row.opening),
    ...taken.map((t) => ({ value: t.value.amount, commission: t.commission.amount })),
  ]);
  return {
    id: row.id,
    name: row.name,
    opening: row.opening,
    first: row.first,
    version: row.version,
    per100: per100 && {
      value: money(per100.value),
      commission: money(per100.commission),
      left: money(per100.left),
    },
    openingName: productById(app, row.opening)!.name,
    openings,
    taken,
    steps: steps.map((s) => ({
      code: s.code,
      product: s.product,
      price: s.price === null ? '' : toDecimal(s.price, productById(app, s.product)!.currency),
      onYes: s.onYes,
      onNo: s.onNo,
    })),
  };
}

export function listFunnels(app: App): { rows: FunnelOut[] } {
  return {
    rows: app.db
      .select()
      .from(funnels)
      .where(isNull(funnels.removedAt))
      .orderBy(funnels.name, funnels.id)
      .all()
      .map((f) => show(app, f)),
  };
}

interface Checked {
  name: string;
  opening: Id<'product'>;
  first: string | null;
  steps: {
    code: string;
    product: Id<'product'>;
    price: number | null;
    onYes: string | null;
    onNo: string | null;
  }[];
}

type StepIn = FunnelIn['steps'][number];

const atSteps = (detail: string, example?: string): FieldFault => ({
  pointer: '/steps',
  detail,
  ...(example === undefined ? {} : { example }),
});

/** An opening product has to be there, and opens one funnel. */
function openingFaults(app: App, id: Id<'product'>, own: Id<'funnel'> | null): FieldFault[] {
  const opening = productById(app, id);
  const other = app.db
    .select({ name: funnels.name })
    .from(funnels)
    .where(and(eq(funnels.opening, id), isNull(funnels.removedAt), own ? ne(funnels.id, own) : undefined))
    .get();
  return [
    ...(opening ? [] : [{ pointer: '/opening', detail: 'The opening product does not exist' }]),
    ...(other
      ? [
          {
            pointer: '/opening',
            detail: `${opening?.name ?? 'The product'} opens the funnel ${other.name} already; a product opens one`,
          },
        ]
      : []),
  ];
}

/** Codes of steps belong to one funnel. */
function codeFaults(app: App, codes: string[], own: Id<'funnel'> | null): FieldFault[] {
  if (!codes.length) return [];
  return app.db
    .select({ code: funnelSteps.code })
    .from(funnelSteps)
    .where(and(inArray(funnelSteps.code, codes), own ? ne(funnelSteps.funnel, own) : undefined))
    .all()
    .map(({ code }) => atSteps(`The code ${code} belongs to a step of another funnel`, `${code}-2`));
}

/** A step as typed; its price in minor units of the product's currency, null for the product's own. */
function readStep(app: App, step: StepIn, faults: FieldFault[]): Checked['steps'][number] {
  const { code, product: id, onYes, onNo } = step;
  const product = productById(app, id);
  if (!product) faults.push(atSteps(`Step ${code} offers a product that does not exist`));
  else if (product.state === 'retired')
    faults.push(atSteps(`Step ${code} offers ${product.name}, which was retired`));
  const parsed = step.price.trim() === '' || !product ? null : parseAmount(step.price, product.currency);
  if (parsed && !parsed.ok) faults.push(atSteps(`Step ${code}, price: ${parsed.reason}`, parsed.example));
  return { code, product: id, price: parsed?.ok ? parsed.value : null, onYes, onNo };
}

function check(app: App, input: FunnelIn, own: Id<'funnel'> | null): Checked {
  const faults: FieldFault[] = [
    ...faultsOfFunnel(input.first, input.steps).map((f) => atSteps(f.detail)),
    ...openingFaults(app, input.opening, own),
    ...codeFaults(
      app,
      input.steps.map((s) => s.code),
      own,
    ),
  ];
  const steps = input.steps.map((s) => readStep(app, s, faults));
  if (faults.length) throw invalid(faults);
  return { name: input.name.trim(), opening: input.opening, first: input.first, steps };
}

function writeSteps(app: App, funnel: Id<'funnel'>, steps: Checked['steps']): void {
  app.db.delete(funnelSteps).where(eq(funnelSteps.funnel, funnel)).run();
  steps.forEach((s, position) =>
    app.db
      .insert(funnelSteps)
      .values({ ...s, funnel, position })
      .run(),
  );
}

export function createFunnel(app: App, actor: Actor, input: FunnelIn): FunnelOut {
  const { steps, ...fields } = check(app, input, null);
  const id = newId('funnel');
  app.db
    .insert(funnels)
    .values({ id, ...fields, createdAt: app.clock.now() })
    .run();
  writeSteps(app, id, steps);
  record(app, actor, 'funnel-created', {
    subject: id,
    before: null,
    after: { name: fields.name, steps: steps.length },
  });
  touch(app, 'records');
  return show(app, app.db.select().from(funnels).where(eq(funnels.id, id)).get()!);
}

function current(app: App, id: Id<'funnel'>, version: number): FunnelRecord {
  const row = app.db
    .select()
    .from(funnels)
    .where(and(eq(funnels.id, id), isNull(funnels.removedAt)))
    .get();
  if (!row) throw new Problem('not-found', 'This funnel does not exist');
  if (row.version !== version) throw stale(app, row.id, 'this funnel', show(app, row));
  return row;
}

export function editFunnel(
  app: App,
  actor: Actor,
  id: Id<'funnel'>,
  input: FunnelIn & { version: number },
): FunnelOut {
  const row = current(app, id, input.version);
  const { steps, ...fields } = check(app, input, id);
  const before = app.db
    .select({ code: funnelSteps.code })
    .from(funnelSteps)
    .where(eq(funnelSteps.funnel, id))
    .all()
    .map((s) => s.code);
  app.db
    .update(funnels)
    .set({ ...fields, version: row.version + 1 })
    .where(eq(funnels.id, id))
    .run();
  writeSteps(app, id, steps);
  endRatesOf(
    app,
    actor,
    before.filter((code) => !steps.some((s) => s.code === code)),
  );
  record(app, actor, 'funnel-edited', {
    subject: id,
    before: { name: row.name, steps: before },
    after: { name: fields.name, steps: steps.map((s) => s.code) },
  });
  return show(app, app.db.select().from(funnels).where(eq(funnels.id, id)).get()!);
}

export function removeFunnel(app: App, actor: Actor, id: Id<'funnel'>, version: number): null {
  const row = current(app, id, version);
  const codes = app.db
    .select({ code: funnelSteps.code })
    .from(funnelSteps)
    .where(eq(funnelSteps.funnel, id))
    .all()
    .map((s) => s.code);
  endRatesOf(app, actor, codes);
  app.db.delete(funnelSteps).where(eq(funnelSteps.funnel, id)).run();
  app.db
    .update(funnels)
    .set({ removedAt: app.clock.now(), version: row.version + 1 })
    .where(eq(funnels.id, id))
    .run();
  record(app, actor, 'funnel-removed', {
    subject: id,
    before: { name: row.name, steps: codes },
    after: null,
  });
  return null;
}
