import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import type { Rate } from '../../../src/core/terms/rate';
import type { Id } from '../../../src/core/text/id';
import type { App } from '../../../src/server/ground/context';
import { newId } from '../../../src/server/ground/db/ids';
import { products } from '../../../src/server/ground/tables/catalogue';
import { links } from '../../../src/server/ground/tables/people';
import { visits } from '../../../src/server/ground/tables/visits';
import { approve } from '../../../src/server/recruit/applications/approve';
import { createProduct, moveProduct } from '../../../src/server/setup/products/service';
import { setCoOwners } from '../../../src/server/setup/terms/coowners';
import { addMembers } from '../../../src/server/setup/terms/members';
import { setReferral } from '../../../src/server/setup/terms/referrals';
import { addRate } from '../../../src/server/setup/terms/service';
import { createSet } from '../../../src/server/setup/terms/sets';
import { addAffiliate, testApp, type TestApp } from '../../helpers/app';

export type Step = {
  kind:
    | 'order'
    | 'subscribe'
    | 'renewal'
    | 'terms'
    | 'refund'
    | 'days'
    | 'run'
    | 'status'
    | 'decline'
    | 'reopen'
    | 'return'
    | 'correct'
    | 'give-up';
  n: number;
  share: number;
};
export const steps = fc.array(
  fc.record({
    kind: fc.constantFrom(
      'order',
      'order',
      'order',
      'subscribe',
      'renewal',
      'terms',
      'refund',
      'refund',
      'days',
      'run',
      'run',
      'status',
      'status',
      'decline',
      'reopen',
      'return',
      'correct',
      'give-up',
    ) as fc.Arbitrary<Step['kind']>,
    n: fc.nat(1000),
    share: fc.integer({ min: 1, max: 100 }),
  }),
  { minLength: 5, maxLength: 40 },
);

export interface World {
  t: TestApp;
  affiliates: Id<'affiliate'>[];
  serial: number;
  group: Id<'set'>;
  subscriptions: { id: string; number: number }[];
}

/** A product by percentage, one by a flat reward, and a subscription with another rate for renewals: all live. */
function sellThree({ app, owner }: TestApp): void {
  const make = (
    code: string,
    fields: Omit<
      Parameters<typeof createProduct>[2],
      'code' | 'name' | 'description' | 'currency' | 'salesPage'
    >,
  ) => {
    const made = createProduct(app, owner, {
      code,
      name: code,
      description: 'x',
      currency: 'EUR',
      salesPage: 'https://shop.quernstone.example/x',
      ...fields,
    });
    moveProduct(app, owner, made.id, { to: 'live', version: made.version });
  };
  make('A', { rewardKind: 'percent', reward: '12.5', price: '199.00', refundDays: 14 });
  make('B', { rewardKind: 'flat', reward: '6.00', price: '33.33', refundDays: 0 });
  make('S', {
    price: '5.00',
    refundDays: 14,
    rewardKind: 'percent',
    reward: '50',
    kind: 'recurring',
    renewalPrice: '24.00',
    renewalRewardKind: 'percent',
    renewalReward: '10',
  });
}

/** Every way of earning: a cap shared by lines, an uplift on top, order bands. */
function addRates({ app, owner }: TestApp, who: { group: Id<'set'>; personal: Id<'affiliate'> }): void {
  const everything = { type: 'everything' as const };
  const rate = (more: Partial<Rate>): Rate => ({
    id: newId('rate'),
    mode: 'base',
    rung: 'programme',
    who: null,
    what: everything,
    event: 'sale',
    payments: null,
    reward: { type: 'percent', ppm: 80_000 },
    cap: null,
    from: 0,
    until: null,
    label: '',
    ...more,
  });
  addRate(
    app,
    owner,
    rate({ rung: 'group', who: who.group, reward: { type: 'percent', ppm: 333_333 }, cap: 1500 }),
  );
  addRate(
    app,
    owner,
    rate({
      mode: 'plus',
      what: { type: 'kind', kind: 'one-off' },
      reward: { type: 'flat-order', amount: 111 },
    }),
  );
  addRate(
    app,
    owner,
    rate({
      rung: 'personal',
      who: who.personal,
      reward: {
        type: 'bands',
        bands: [
          { from: 2000, pay: { type: 'percent', ppm: 150_000 } },
          { from: 9000, pay: { type: 'flat-unit', amount: 250 } },
        ],
      },
    }),
  );
}

export function begin(): World {
  const t = testApp();
  const { app, owner } = t;
  sellThree(t);
  const list = ['Ann', 'Bob', 'Cem'].map((name) => addAffiliate(app, name));
  list.forEach((row, i) =>
    approve(app, owner, row, { product: null, timing: i === 0 ? 'at-sale' : 'after-hold' }),
  );
  const group = createSet(app, owner, { of: 'group', name: 'G', about: '' }).id;
  addMembers(app, owner, group, { text: 'bob', others: 'move' });
  addRates(t, { group, personal: list[2]!.id });
  // Ann brought Bob in, who may earn up to 40 % and more; Cem has a part in A, and so has Ann
  setReferral(app, owner, list[1]!.id, { by: list[0]!.id, percent: '7.5', of: 'sale', months: '' });
  setCoOwners(app, owner, app.db.select().from(products).where(eq(products.code, 'A')).get()!.id, {
    owners: [
      { payee: list[2]!.id, percent: '33.3333' },
      { payee: list[0]!.id, percent: '12.5' },
    ],
    expects: [],
  });
  return { t, affiliates: list.map((a) => a.id), serial: 0, group, subscriptions: [] };
}

export function visitOf(app: App, affiliate: Id<'affiliate'>): string {
  const link = app.db.select().from(links).where(eq(links.affiliate, affiliate)).get()!;
  const id = newId('visit');
  app.db
    .insert(visits)
    .values({ id, link: link.code, affiliate, product: link.product!, at: app.clock.now(), landing: 'x' })
    .run();
  return id;
}

export const at = (app: App) => new Date(app.clock.now()).toISOString();
export const status = (app: App, rows: { endToEnd: string }[], code: (i: number) => string) =>
  `end_to_end_id,status,reason\n${rows.map((r, i) => `${r.endToEnd},${code(i)},AC04`).join('\n')}\n`;

/** A step that is being played: what it is tried in, and one of a list by its number. */
export interface Played {
  world: World;
  step: Step;
  inOne: (work: () => void) => void;
  all: <T>(rows: T[]) => T | undefined;
}
