import { and, eq, isNull, sql } from 'drizzle-orm';
import { type App } from '../../ground/context';
import { products } from '../../ground/tables/catalogue';
import { keys } from '../../ground/tables/connection';
import { creatives } from '../../ground/tables/creatives';
import { offers } from '../../ground/tables/offers';
import { orders } from '../../ground/tables/orders';
import { policies } from '../../ground/tables/policy';
import { logoAddress } from '../../registers/catalogue/files';
import { theProgramme } from '../../registers/programme/record';

interface Step {
  text: string;
  to: string;
  done: boolean;
  /** nothing can be sold or paid without it */ essential: boolean;
}

const has = (n: { n: number } | undefined) => (n?.n ?? 0) > 0;
const count = sql<number>`count(*)`;

/** How it presents itself. */
function introduced(app: App): Step[] {
  const { intro, summary, categories, supportAddress } = theProgramme(app);
  return [
    {
      text: 'Write the introduction and the summary that affiliates read first',
      to: '/settings',
      done: intro !== '' && summary !== '',
      essential: false,
    },
    { text: 'Add a logo', to: '/settings', done: logoAddress(app) !== null, essential: false },
    {
      text: 'Choose the categories of the programme',
      to: '/settings',
      done: categories.length > 0,
      essential: false,
    },
    {
      text: 'Say whom buyers can ask',
      to: '/settings?part=buyers',
      done: supportAddress !== '',
      essential: false,
    },
    {
      text: 'Publish the policy',
      to: '/policy',
      done: has(app.db.select({ n: count }).from(policies).where(eq(policies.state, 'published')).get()),
      essential: false,
    },
  ];
}

/** What is sold, and what it is promoted with. */
function offered(app: App): Step[] {
  const live = app.db.select({ n: count }).from(products).where(eq(products.state, 'live')).get();
  const open = app.db
    .select({ n: count })
    .from(offers)
    .where(and(eq(offers.live, true), isNull(offers.removedAt)))
    .get();
  const material = app.db
    .select({ id: creatives.id })
    .from(creatives)
    .where(isNull(creatives.removedAt))
    .limit(1)
    .get();
  return [
    { text: 'Put a first product live', to: '/products', done: has(live), essential: true },
    { text: 'Open an offer page', to: '/offers', done: has(open), essential: false },
    {
      text: 'Make a first creative: there is no material yet',
      to: '/creatives',
      done: material !== undefined,
      essential: false,
    },
  ];
}

/** The shop and the account. */
function connected(app: App): Step[] {
  const key = has(app.db.select({ n: count }).from(keys).get());
  const spoken = app.db.select({ id: orders.id }).from(orders).limit(1).get() !== undefined;
  return [
    { text: 'Make a key for the shop and connect it', to: '/connection', done: key, essential: true },
    ...(key
      ? [{ text: 'No order has arrived from the shop yet', to: '/connection', done: spoken, essential: true }]
      : []),
    {
      text: 'Enter the account that payouts are made from',
      to: '/settings?part=money',
      done: theProgramme(app).debtorIban !== '',
      essential: true,
    },
  ];
}

/** What a programme needs before it goes live, in the order to do it. */
const steps = (app: App): Step[] => [...introduced(app), ...offered(app), ...connected(app)];

/** What is still missing, all of it. */
export function missingForLive(app: App): { text: string; to: string }[] {
  return steps(app)
    .filter((s) => !s.done)
    .map(({ text, to }) => ({ text, to }));
}

/** What is still missing without which nothing can be sold or paid. */
export function missingEssentials(app: App): { text: string; to: string }[] {
  return steps(app)
    .filter((s) => !s.done && s.essential)
    .map(({ text, to }) => ({ text, to }));
}
