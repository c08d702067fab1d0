import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { SetChange } from '../../src/contract/setup/rate-book';
import { endAt } from '../../src/core/calendar/span';
import { buildBook, winner } from '../../src/core/terms/book';
import { replaces } from '../../src/core/terms/draft';
import { type AffiliateTerms, type Rate } from '../../src/core/terms/rate';
import type { Id } from '../../src/core/text/id';
import { Problem } from '../../src/server/ground/http/problem';
import { createProduct, moveProduct } from '../../src/server/setup/products/service';
import { saveDraft } from '../../src/server/setup/terms/draft-save';
import { openDraft } from '../../src/server/setup/terms/draft-store';
import { dateDraft, discardDraft, draftRate, draftSwitch } from '../../src/server/setup/terms/drafts';
import { removeSet } from '../../src/server/setup/terms/set-removal';
import { restoreSet } from '../../src/server/setup/terms/set-restore';
import { createSet, setById } from '../../src/server/setup/terms/sets';
import { theTerms } from '../../src/server/setup/terms/store';
import { undoTimeline } from '../../src/server/setup/terms/timeline';
import { testApp, type TestApp } from '../helpers/app';
import { runsOf, seed } from '../helpers/long';

const day = 86_400_000;

type Done = { op: 'add'; rate: Rate; undone: boolean } | { op: 'end'; id: string; at: number };
/** What was done, as it was done: the book is always what a replay of it gives, without what was taken back. */
type Act = { kind: 'save'; changes: Done[] } | { kind: 'remove'; set: string; at: number; restored: boolean };

interface World {
  t: TestApp;
  product: string;
  sets: { id: Id<'set'>; of: 'card' | 'group' | 'tag' }[];
  begun: Rate[];
  acts: Act[];
  done: Record<string, number>;
}

/** The naive reading: every act in its order, nothing indexed and nothing kept. */
function replay({ begun, acts }: World): Rate[] {
  let rates = begun;
  const ended = (r: Rate, at: number) => ({ ...r, until: endAt(r, at) });
  for (const act of acts) {
    if (act.kind === 'remove') {
      if (!act.restored)
        rates = rates.map((r) =>
          r.who === act.set && (r.until === null || r.until > act.at) ? ended(r, act.at) : r,
        );
      continue;
    }
    for (const change of act.changes) {
      if (change.op === 'end') rates = rates.map((r) => (r.id === change.id ? ended(r, change.at) : r));
      else if (!change.undone)
        rates = [
          ...rates.map((r) => (replaces(change.rate, r) ? ended(r, change.rate.from) : r)),
          change.rate,
        ];
    }
  }
  return rates;
}

function begin(): World {
  const t = testApp();
  const made = createProduct(t.app, t.owner, {
    code: 'A',
    name: 'A',
    description: 'x',
    currency: 'EUR',
    price: '100.00',
    refundDays: 0,
    salesPage: 'https://shop.quernstone.example/x',
    rewardKind: 'percent',
    reward: '10',
  });
  moveProduct(t.app, t.owner, made.id, { to: 'live', version: made.version });
  const sets = (['group', 'tag', 'card'] as const).map((kind) => ({
    id: createSet(t.app, t.owner, { of: kind, name: kind, about: '' }).id,
    of: kind,
  }));
  return { t, product: made.id, sets, begun: [...theTerms(t.app).data.rates], acts: [], done: {} };
}

const steps = fc.array(
  fc.record({
    kind: fc.constantFrom('add', 'add', 'add', 'end', 'undo', 'undo', 'remove', 'restore', 'restore', 'days'),
    n: fc.nat(1000),
    many: fc.integer({ min: 1, max: 3 }),
  }),
  { minLength: 6, maxLength: 25 },
);
type Step = { kind: string; n: number; many: number };

const wall = (at: number) => new Date(at).toISOString().slice(0, 16);

function change(world: World, n: number, from: number): SetChange {
  const set = world.sets[n % 4];
  const value = String(1 + (n % 40));
  const until = n % 5 === 0 ? { until: wall(from + (2 + (n % 30)) * day) } : {};
  const bands = { kind: 'bands' as const, bands: [{ from: '150.00', kind: 'percent' as const, value }] };
  return {
    column: set ? { of: set.of, id: set.id } : { of: 'everyone' },
    row: n % 3 === 0 ? { of: 'everything' } : { of: 'product', id: world.product },
    event: 'sale',
    mode: n % 11 === 0 ? 'plus' : 'base',
    reward: n % 7 === 0 && n % 11 !== 0 ? bands : { kind: 'percent', value },
    ...until,
  };
}

/** Saves a draft of several changes that begins so far ahead that no notice stands against it. */
function save(world: World, { n, many }: Step): void {
  const { app, owner } = world.t;
  const from = app.clock.now() + (15 + (n % 45)) * day;
  const running = theTerms(app).data.rates.filter((r) => r.until === null || r.until > app.clock.now());
  const picked = n % 4 === 1 ? running[n % Math.max(1, running.length)] : undefined;
  try {
    for (let i = 0; i < many; i += 1) draftRate(app, owner, change(world, n + i * 13, from));
    if (picked) draftSwitch(app, owner, { op: 'end', id: picked.id });
    dateDraft(app, owner, wall(from), openDraft(app, owner)!.version);
    const before = new Set(theTerms(app).data.rates.map((r) => r.id));
    const draft = openDraft(app, owner)!;
    const drafted = draft.changes.map((c) => c.change);
    saveDraft(app, owner, draft.version);
    const rates = new Map(theTerms(app).data.rates.map((r) => [r.id, r]));
    // typed in the programme's zone, daylight saving included: what the first rate of the draft got
    const begins = [...rates.values()].find((r) => !before.has(r.id))!.from;
    world.acts.push({
      kind: 'save',
      changes: drafted.flatMap((c): Done[] => {
        if (c.op === 'end') return [{ op: 'end' as const, id: c.id, at: begins }];
        return c.op === 'add' && !before.has(c.rate.id) && rates.has(c.rate.id)
          ? [{ op: 'add' as const, rate: { ...c.rate, from: begins }, undone: false }]
          : [];
      }),
    });
  } finally {
    const left = openDraft(app, owner);
    if (left) discardDraft(app, owner, left.version);
  }
}

function undo(world: World, n: number): void {
  const { app, owner } = world.t;
  const added = world.acts
    .flatMap((a) => (a.kind === 'save' ? a.changes : []))
    .flatMap((c) => (c.op === 'add' && !c.undone ? [c] : []));
  const one = added[n % Math.max(1, added.length)];
  if (!one) return;
  undoTimeline(app, owner, one.rate.id);
  one.undone = true;
}

function remove(world: World, set: Id<'set'>): void {
  const { app, owner } = world.t;
  removeSet(app, owner, set, { to: null, version: setById(app, set).version });
  world.acts.push({ kind: 'remove', set, at: app.clock.now(), restored: false });
}

function restore(world: World, set: Id<'set'>): void {
  restoreSet(world.t.app, world.t.owner, set);
  for (const act of world.acts) if (act.kind === 'remove' && act.set === set) act.restored = true;
}

function play(world: World, step: Step): void {
  const set = world.sets[step.n % 3]!.id;
  try {
    if (step.kind === 'add' || step.kind === 'end') save(world, step);
    else if (step.kind === 'undo') undo(world, step.n);
    else if (step.kind === 'days') world.t.app.clock.advance((1 + (step.n % 20)) * day);
    // what is removed is not removed again, what stands not restored
    else if ((setById(world.t.app, set).removedAt === null) !== (step.kind === 'remove')) return;
    else if (step.kind === 'remove') remove(world, set);
    else restore(world, set);
    world.done[step.kind] = (world.done[step.kind] ?? 0) + 1;
  } catch (fault) {
    if (!(fault instanceof Problem)) throw fault;
    world.done.refused = (world.done.refused ?? 0) + 1;
  }
}

/** The book of every past and coming day, for everybody and for members of each set. */
function compare(world: World): void {
  const { app } = world.t;
  const ours = theTerms(app).data.rates;
  const naive = replay(world);
  const moments = [
    ...new Set(
      [...ours, ...naive].flatMap((r) => [
        r.from,
        r.from - 1,
        ...(r.until === null ? [] : [r.until, r.until - 1]),
      ]),
    ),
  ];
  const [group, tag, card] = world.sets.map((s) => s.id);
  const people: AffiliateTerms[] = [
    { affiliate: 'aff_x', card: null, group: null, tags: [] },
    { affiliate: 'aff_x', card: card!, group: null, tags: [] },
    { affiliate: 'aff_x', card: null, group: { id: group!, paused: false }, tags: [] },
    { affiliate: 'aff_x', card: null, group: null, tags: [tag!] },
  ];
  const [book, wanted] = [buildBook(ours), buildBook(naive)];
  for (const at of moments) {
    for (const terms of people) {
      for (const worth of [10_000, 20_000]) {
        const line = { product: world.product, kind: 'one-off', approved: true };
        const asked = { event: 'sale' as const, at, payment: 1, rows: [{ line, base: worth }] };
        expect(
          winner(book, terms, line, asked)?.id,
          `${new Date(at).toISOString()} ${JSON.stringify(terms)}`,
        ).toBe(winner(wanted, terms, line, asked)?.id);
      }
    }
    const lifts = (rates: readonly Rate[]) =>
      rates
        .filter((r) => r.mode !== 'base' && r.from <= at && (r.until === null || at < r.until))
        .map((r) => r.id)
        .sort();
    expect(lifts(ours)).toEqual(lifts(naive));
  }
}

describe(`any sequence of saving, ending, undoing, removing and restoring (seed ${seed})`, () => {
  it('leaves the book of every past and coming day as a naive replay has it', () => {
    const done: Record<string, number> = {};
    fc.assert(
      fc.property(steps, (list) => {
        const world = begin();
        try {
          for (const step of list) {
            play(world, step);
            compare(world);
          }
          for (const [kind, n] of Object.entries(world.done)) done[kind] = (done[kind] ?? 0) + n;
        } finally {
          world.t.app.close();
        }
      }),
      { numRuns: Math.min(runsOf(60), 2000), seed, endOnFailure: true },
    );
    process.stdout.write(`succeeded: ${JSON.stringify(done)}\n`);
    for (const kind of ['add', 'undo', 'remove', 'restore'])
      expect(done[kind] ?? 0, kind).toBeGreaterThan(10);
  }, 1_200_000);
});
