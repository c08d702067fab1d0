import type { AnyEndpoint } from '../../src/contract/endpoint';
import { emptyCreative } from '../../src/core/material/creative';
import { emptyPolicy, gapsOf } from '../../src/core/recruiting/policy';
import type { Id } from '../../src/core/text/id';
import { takePartners } from '../../src/server/recruit/prospects/copy';
import { acceptanceLink, answerLink } from '../../src/server/registers/access/links';
import { partnerAt } from '../../src/standins/partners';
import type { TestServer } from './server';

export interface Every {
  /** an id by the part of a path that it follows: products, orders, affiliates … */
  ids: Record<string, string>;
  /** whom the orders, earnings and payments belong to */
  mine: Awaited<ReturnType<TestServer['affiliate']>>;
  /** the path of a call with ids that exist */
  pathOf: (end: AnyEndpoint) => string;
}

type Ids = Record<string, string>;

/** A product that is sold, refunded and paid; a report that is refused. */
async function sold(s: TestServer, ids: Ids): Promise<Every['mine']> {
  ids.products = await s.product('WHEEL-1');
  const mine = await s.affiliate('Loam Letters', { timing: 'at-sale' });
  ids.affiliates = mine.id;
  const link = await mine.link('WHEEL-1');
  const at = new Date(s.app.clock.now()).toISOString();
  const order = async (reference: string, line: object) =>
    s.report('orders', {
      order: reference,
      placedAt: at,
      currency: 'EUR',
      lines: [{ product: 'WHEEL-1', ...line }],
      visit: await s.visit(link),
    });
  await order('Q-1', { quantity: 2, amount: '200.00', discount: '10.00' });
  await order('Q-2', { quantity: 1, amount: '100.00' });
  const lines = [{ product: 'WHEEL-1', amount: '50.00' }];
  await s.report('refunds', { refund: 'R-1', order: 'Q-1', at, kind: 'refund', lines });
  await s.report('orders', { order: 'Q-3' });
  return mine;
}

/** A run that was sent. */
async function paid(s: TestServer, ids: Ids): Promise<void> {
  const owner = await s.as('owner');
  const cutoff = new Date(s.app.clock.now()).toISOString().slice(0, 10);
  const run = (
    await owner.post<{ id: string; version: number; total: { amount: number } }>('/api/v1/payouts', {
      cutoff,
      minimum: '',
    })
  ).body;
  ids.payouts = run.id;
  await owner.post(`/api/v1/payouts/${run.id}/approve`, { version: run.version, total: run.total.amount });
  await owner.post(`/api/v1/payouts/${run.id}/send`, { version: run.version + 1 });
}

const oneOf = (s: TestServer) => (sql: string) => s.app.sqlite.prepare(sql).pluck().get() as string;

/** An application that was asked something; a partner who was invited; an offer that is live. */
async function recruited(s: TestServer, ids: Ids): Promise<void> {
  const owner = await s.as('owner');
  await (
    await s.as('viewer')
  ).post('/api/v1/join', {
    name: 'Waiting',
    email: 'w@waiting.example',
    country: 'PT',
    address: '',
    sites: ['waiting.example'],
    channels: '',
    note: 'Hello',
    product: '',
  });
  const one = oneOf(s);
  ids.applications = one("SELECT id FROM applications WHERE state = 'waiting'");
  await owner.post(`/api/v1/applications/${ids.applications}/ask`, { question: 'Which site?' });
  const question = one('SELECT id FROM questions') as Id<'question'>;
  ids.questions = question;
  ids.question = answerLink(s.app, question).split('/answer/')[1]!;
  takePartners(s.app, [partnerAt(1), partnerAt(2)]);
  ids.prospects = partnerAt(1).id;
  await owner.post('/api/v1/prospects/invite', {
    ids: [ids.prospects],
    message: 'Would you like to join {programme}?',
  });
  const offer = (
    await owner.post<{ id: string; slug: string; version: number }>('/api/v1/offers', {
      headline: 'A wheel',
      about: '',
      benefits: [],
      language: 'en',
      products: [ids.products],
      category: 'Other',
    })
  ).body;
  await owner.post(`/api/v1/offers/${offer.id}/live`, { on: true, version: offer.version });
  [ids.offers, ids.slug] = [offer.id, offer.slug];
}

/** A notice, a policy in force, a letter and what letters are made of. */
async function told(s: TestServer, ids: Ids, affiliate: Id<'affiliate'>): Promise<void> {
  const owner = await s.as('owner');
  await owner.post('/api/v1/notices', { kind: 'news', title: 'News', body: 'New.', product: null });
  const draft = (
    await owner.post<{ id: Id<'policy'>; content: object; version: number }>('/api/v1/policies/draft')
  ).body;
  const edited = (
    await owner.put<{ version: number }>(`/api/v1/policies/${draft.id}`, {
      ...draft.content,
      general: 'Mark your links.',
      version: draft.version,
    })
  ).body;
  await owner.post(`/api/v1/policies/${draft.id}/publish`, {
    version: edited.version,
    empty: gapsOf(emptyPolicy).map((gap) => gap.key),
  });
  ids.acceptance = acceptanceLink(s.app, affiliate, draft.id).split('/accept/')[1]!;
  const next = await owner.post<{ id: string }>('/api/v1/policies/draft');
  ids.policies = next.body.id;
  await owner.post(`/api/v1/affiliates/${affiliate}/permissions`, {
    practice: 'cash-return',
    allowed: true,
    words: '',
    replaces: null,
  });
  await owner.post('/api/v1/segments', { name: 'Active', filter: { state: 'active' }, columns: [] });
  await owner.post('/api/v1/templates', { use: 'message', name: 'T', subject: 'S', body: 'Body' });
  await owner.post('/api/v1/messages', { ids: [affiliate], subject: 'S', body: 'Body', kind: 'letter' });
  const letter = oneOf(s)("SELECT body FROM messages WHERE kind = 'letter'");
  ids.letter = /letters\/(\S+)/.exec(letter)![1]!;
}

/** A draft of the rate book and its rehearsal, which has come to its end. */
async function rehearsed(s: TestServer, ids: Ids): Promise<void> {
  const owner = await s.as('owner');
  await owner.post('/api/v1/draft/rates', {
    column: { of: 'everyone' },
    row: { of: 'everything' },
    event: 'sale',
    mode: 'base',
    reward: { kind: 'percent', value: '20' },
  });
  const to = new Date(s.app.clock.now()).toISOString().slice(0, 10);
  ids.rehearsals = (
    await owner.post<{ id: string }>('/api/v1/rehearsals', { from: '2026-01-01', to })
  ).body.id;
  const state = async () =>
    (await owner.get<{ state: string }>(`/api/v1/rehearsals/${ids.rehearsals}`)).body.state;
  for (let tries = 0; tries < 400 && (await state()) === 'running'; tries += 1)
    await new Promise((done) => {
      setTimeout(done, 25);
    });
  const drafted = (await owner.get<{ changes: { id: string }[] }>('/api/v1/draft')).body;
  ids.changes = drafted.changes[0]?.id ?? '';
}

/** A creative with a change that is planned for it. */
async function equipped(s: TestServer, ids: Ids, mine: Every['mine']): Promise<void> {
  const affiliate = mine.id;
  const owner = await s.as('owner');
  const made = await owner.post<{ id: string }>('/api/v1/creatives', {
    ...emptyCreative,
    kind: 'email',
    name: 'A letter',
    products: [ids.products],
    subjects: ['My first pot'],
    body: 'Dear reader, here it is: {link}',
    // one’s own: another affiliate finds nothing under its id
    audience: { kind: 'named', affiliates: [affiliate] },
  });
  ids.creatives = made.body.id;
  ids.material = made.body.id;
  const coupon = await owner.post<{ id: string }>('/api/v1/coupons', {
    ...{ code: 'OWN10', gives: 'percent', value: '10', words: '', least: '', products: [], landing: '' },
    ...{ terms: '', owner: affiliate, audience: { kind: 'everybody' }, applied: true, active: true },
    ...{ from: null, until: null },
  });
  ids.coupons = coupon.body.id;
  await owner.post(`/api/v1/creatives/${ids.creatives}/planned`, {
    at: s.app.clock.now() + 86_400_000,
    changes: { name: 'Another name' },
  });
  const asked = await mine.client.post<{ id: string }>('/api/v1/portal/requests', {
    ...{ kind: 'banner', size: '160x600', subject: '', language: '', product: '', words: 'A tall one.' },
  });
  ids.requests = asked.body.id;
}

/** What only acts name: an act on many, a screening rule, a funnel, an order seen by its picture. */
async function acted(s: TestServer, ids: Ids, affiliate: string): Promise<void> {
  const owner = await s.as('owner');
  await owner.post('/api/v1/affiliates/bulk', { ids: [affiliate], what: 'kind', to: 'podcast' });
  await owner.post('/api/v1/screening', {
    conditions: { note: true, countryIn: ['PT'] },
    outcome: { do: 'approve', timing: 'after-hold' },
  });
  const second = await s.product('AFTER-1');
  await owner.post('/api/v1/funnels', {
    name: 'After',
    opening: ids.products,
    first: 'after-1',
    steps: [{ code: 'after-1', product: second, price: '', onYes: null, onNo: null }],
  });
  await fetch(`${s.address}/px/${s.key.id}.gif?order=PX-EVERY&amount=1.00&currency=EUR&product=WHEEL-1`);
}

/** What is there by now, by the part of a path that names it. */
function foundIn(s: TestServer, ids: Ids): void {
  const one = oneOf(s);
  ids.orders = one("SELECT id FROM orders WHERE reference = 'Q-1'");
  ids.earnings = one(
    "SELECT c.id FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = 'Q-1'",
  );
  ids.sets = 'set_standard';
  ids.keys = s.key.id;
  for (const [name, table] of [
    ['reports', 'reports'],
    ['payments', 'payments'],
    ['segments', 'segments'],
    ['bulk', 'bulk_acts'],
    ['templates', 'templates'],
    ['invites', 'invites'],
    ['notices', 'notices'],
    ['screening', 'screening_rules'],
    ['funnels', 'funnels'],
    ['timeline', 'rates'],
    ['unconfirmed', 'pictured'],
    ['commissions', 'commissions'],
    ['staff', 'staff'],
    ['permissions', 'permissions'],
    ['planned', 'planned_changes'],
  ] as const)
    ids[name] = one(`SELECT id FROM ${table} LIMIT 1`);
}

/** The path of a call with ids that exist. @throws where none is known of what stands before “:id” */
function pathWith(ids: Ids, path: string): string {
  const parts = path.split('/');
  const before = parts[parts.indexOf(':id') - 1] ?? '';
  if (parts.includes(':id') && !path.includes('open/v1') && !ids[before])
    throw new Error(`no id of ${before} for ${path}`);
  return path
    .replace('open/v1/products/:id', 'open/v1/products/WHEEL-1')
    .replace(':id', ids[before] ?? '')
    .replace(':order', ids.orders!)
    .replace('letters/:token', `letters/${ids.letter}`)
    .replace('acceptance/:token', `acceptance/${ids.acceptance}`)
    .replace(':slug', ids.slug!)
    .replace(':hash', 'a'.repeat(64))
    .replace(':token', ids.question!);
}

/** One of everything that a path can name. */
export async function everyId(s: TestServer): Promise<Every> {
  const ids: Ids = {};
  const mine = await sold(s, ids);
  await paid(s, ids);
  await recruited(s, ids);
  await told(s, ids, mine.id);
  await rehearsed(s, ids);
  await equipped(s, ids, mine);
  await acted(s, ids, mine.id);
  foundIn(s, ids);
  return { ids, mine, pathOf: ({ path }) => pathWith(ids, path) };
}
