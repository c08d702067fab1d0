import { eq } from 'drizzle-orm';
import { type OrderReport } from '../contract/track/signed-calls';
import { addDays, dayOf, daysBetween, startOfDay } from '../core/calendar/zone';
import { inARow } from '../core/pricing/funnel';
import { renewalMoment } from '../core/pricing/product';
import { touch } from '../server/ground/cache';
import { type Actor, type App } from '../server/ground/context';
import { newId } from '../server/ground/db/ids';
import { staff } from '../server/ground/tables/access';
import { applications } from '../server/ground/tables/applications';
import { products } from '../server/ground/tables/catalogue';
import { keys } from '../server/ground/tables/connection';
import { affiliates, links } from '../server/ground/tables/people';
import { programme } from '../server/ground/tables/programme';
import { payments } from '../server/ground/tables/runs';
import { clearDue } from '../server/ledger/journal';
import { decide } from '../server/recruit/applications/decide';
import { join } from '../server/recruit/applications/join';
import { createRule } from '../server/recruit/applications/screening';
import { acceptTicked } from '../server/recruit/applications/ticked';
import { registryWasRead, takePartners } from '../server/recruit/prospects/copy';
import { moveAffiliate } from '../server/recruit/roster/service';
import { hashPassword } from '../server/registers/access/passwords';
import { setUp } from '../server/registers/accounts/set-up';
import { addStaff } from '../server/registers/accounts/staff';
import { detailsOf } from '../server/registers/catalogue/details';
import { setFile } from '../server/registers/catalogue/files';
import { productByCode } from '../server/registers/catalogue/store';
import { setExchange } from '../server/registers/exchange/rates';
import { approveRun } from '../server/settle/runs/approve';
import { outlineOf } from '../server/settle/runs/outline';
import { createRun, runById } from '../server/settle/runs/runs';
import { sendRun } from '../server/settle/runs/send';
import { readStatusAtOnce } from '../server/settle/runs/settle';
import { createFunnel } from '../server/setup/products/funnels';
import { createProduct, editProduct, moveProduct } from '../server/setup/products/service';
import { readProduct } from '../server/setup/products/view';
import { readSettings, saveBuyerContacts, saveMoney, saveProgramme } from '../server/setup/settings/settings';
import { grantClicks } from '../server/track/clicks/clicks';
import { createKey } from '../server/track/connection/connection';
import { takeOrder } from '../server/track/orders/intake';
import { normaliseOrder } from '../server/track/orders/normalise';
import { takeLead, takeRenewal } from '../server/track/orders/payments';
import { takePicture } from '../server/track/orders/pictured';
import { takeRefund } from '../server/track/orders/refund';
import { log } from '../server/track/reports/log';
import type { DemoAffiliate } from './affiliate';
import { madeUpIban } from './iban';
import { everyPartner } from './partners';
import { planPictures } from './pictures';
import { planPolicy, planPresence } from './programme';
import { Seeded } from './random';
import { planRecruits } from './recruits';
import * as scenario from './scenario';
import { planShares } from './shares';
import { planTerms } from './terms';

/** The hand on the demo's clock while history is played. */
export interface Hand {
  set: (moment: number) => void;
}

interface Pending {
  at: number;
  act: () => void;
}

const shopHost = 'https://shop.quernstone.example';
const hours = 3_600_000;

/** Plays fourteen months of Quernstone Clayworks through the services, day by day, from a fixed seed. */
export async function playDemo(app: App, hand: Hand, seed = 1312): Promise<void> {
  const random = new Seeded(seed);
  const zone = scenario.merchant.zone;
  const start = startOfDay(scenario.from, zone);
  const at = (day: string, hour = 9) => startOfDay(day, zone) + hour * hours;
  hand.set(start - 30 * 24 * hours);
  await setUp(app, { ...scenario.merchant, password: scenario.demoPassword, tryOut: true });
  const owner: Actor = { kind: 'staff', id: app.db.select().from(staff).get()!.id };
  const password = await hashPassword(scenario.demoPassword);
  const people = new Map(
    scenario.colleagues.map((c) => [c.role, app.transaction(() => addStaff(app, owner, c, password).id)]),
  );
  const finance: Actor = { kind: 'staff', id: people.get('finance')! };
  const manager: Actor = { kind: 'staff', id: people.get('manager')! };
  app.transaction(() => settings(app, owner));

  const agenda: Pending[] = [];
  const plan = (moment: number, act: () => void) => agenda.push({ at: moment, act });
  const visitsOf = new Map<string, { id: string; at: number }[]>();
  const write = visitWriter(app);

  takePartners(app, everyPartner());
  app.transaction(() => planPolicy(app, plan, at, owner));
  planRecruits(app, plan, at, manager);
  planPresence(app, plan, { at, owner, manager });
  for (const a of [...scenario.demoAffiliates, ...scenario.declined, ...scenario.waiting])
    planRecruiting(app, plan, { a, manager, password, at });
  planTerms(app, owner, { manager, plan, at });
  plan(at('2027-03-03', 10), () => scenario.rules.forEach((rule) => createRule(app, manager, rule)));
  planShares(app, owner, { manager, password, plan, at });
  planPictures(app, plan, at);
  plan(at(scenario.courseRaise.day), () => raiseCourse(app, manager));
  for (const bad of scenario.demoAffiliates.filter((a) => a.bad)) {
    plan(at('2027-02-24', 15) + scenario.demoAffiliates.indexOf(bad) * 60_000, () => {
      const row = app.db.select().from(affiliates).where(eq(affiliates.email, bad.email)).get()!;
      moveAffiliate(app, manager, row.id, {
        to: bad.name.startsWith('Quick') ? 'blocked' : 'paused',
        reason: 'Refunds far above the rest, buyers share one address',
        version: row.version,
      });
    });
  }
  for (const day of ['2026-04-20', '2026-06-22', '2026-08-20', '2026-10-20'])
    plan(at(day, 11), () => payRun(app, owner, { finance, cutoff: addDays(day, -1), last: 'ACSC' }));
  plan(at('2027-01-20', 11), () => payRun(app, owner, { finance, cutoff: '2027-01-19', last: 'ACSC' }));
  plan(at('2027-03-02', 11), () => payRun(app, owner, { finance, cutoff: '2027-03-01', last: 'AC04' }));

  let number = 4100;
  for (const day of daysBetween(scenario.from, scenario.today)) {
    const season = seasonOf(day);
    for (const a of scenario.demoAffiliates.filter((x) => x.joined <= day)) {
      const clicks = Math.round(a.weight * season * (0.35 + random.next() * 0.5));
      for (let i = 0; i < clicks; i += 1) {
        const moment = at(day, 0) + Math.floor((6 + random.next() * 17.9) * hours);
        const product = a.product
          ? scenario.demoProducts.find((p) => p.code === a.product)!
          : random.weighted(scenario.demoProducts, (p) => p.weight);
        const automated = random.chance(0.02);
        const buys = !automated && random.chance(product.conversion * (a.bad ? 1.8 : 1));
        const twice = buys && random.chance(0.02);
        const gap = Math.floor(random.next() * random.next() * 9 * 24 * hours);
        const refund = buys && random.chance(a.bad ? 0.3 : product.refunds);
        const shape = {
          quantity: random.chance(0.06) ? 2 : 1,
          discount: random.chance(0.12),
          extras: (scenario.demoFunnels.find((f) => f.opening === product.code)?.steps ?? []).filter((s) =>
            random.chance(s.taken),
          ),
          renewals: product.code === 'GLAZE-M' ? random.whole(0, 9) : product.code === 'PLAN-Y' ? 1 : 0,
          currency: product.more?.kind
            ? 'EUR'
            : random.weighted(['EUR', 'USD', 'GBP', 'JPY'], (c) => ({ EUR: 80, USD: 9, GBP: 9, JPY: 2 })[c]!),
          part: random.chance(0.4),
          later: random.whole(1, 12),
        };
        plan(moment, () => {
          const visit = write(a.email, product.code, moment, automated);
          if (!visit) return;
          visitsOf.set(a.email, [...(visitsOf.get(a.email) ?? []).slice(-20), { id: visit, at: moment }]);
          if (buys)
            plan(moment + gap + 4 * 60_000, () => {
              number += 1;
              buy(app, plan, {
                reference: `Q-${number}`,
                product,
                visit,
                at: moment + gap + 4 * 60_000,
                twice,
                refund,
                ...shape,
              });
            });
        });
      }
    }
    // sales that nobody is credited for
    if (random.chance(0.5)) {
      const product = random.weighted(scenario.demoProducts, (p) => p.weight);
      const moment = at(day, 12) + random.whole(0, 8 * hours);
      plan(moment, () => {
        number += 1;
        buy(app, plan, {
          reference: `Q-${number}`,
          product,
          visit: null,
          at: moment,
          twice: false,
          refund: false,
          quantity: 1,
          discount: false,
          currency: 'EUR',
          part: false,
          later: 1,
          extras: [],
          renewals: 0,
        });
      });
    }
    plan(at(day, 0) + 23.9 * hours, () => {
      grantClicks(app);
      clearDue(app);
    });
  }
  const end = at(scenario.today, 10);
  while (agenda.length) {
    // plans are added while others are carried out: take a day's worth in order, then look again
    agenda.sort((a, b) => a.at - b.at);
    const until = agenda[0]!.at + 6 * hours;
    const batch = agenda.filter((p) => p.at < until);
    agenda.splice(0, batch.length);
    app.transaction(() => {
      for (let next = batch.shift(); next; next = batch.shift()) {
        if (next.at > end) continue;
        hand.set(next.at);
        next.act();
        const added = agenda.filter((p) => p.at < until);
        if (added.length) {
          agenda.splice(0, agenda.length, ...agenda.filter((p) => p.at >= until));
          batch.push(...added);
          batch.sort((a, b) => a.at - b.at);
        }
      }
    });
  }
  hand.set(end);
  app.transaction(() => {
    grantClicks(app);
    clearDue(app);
    faultyReports(app);
    registryWasRead(app);
    app.db.update(programme).set({ clockAt: end }).run();
  });
  touch(app, 'records');
}

function settings(app: App, owner: Actor): void {
  const first = readSettings(app);
  saveProgramme(app, owner, {
    name: first.name,
    contact: first.contact,
    intro: '',
    summary: '',
    rate: '8',
    windowDays: 30,
    landingHosts: ['shop.quernstone.example'],
    version: first.version,
  });
  saveMoney(app, owner, 'owner', {
    bufferDays: 3,
    clearing: 'automatic',
    minimumPayout: '25.00',
    approvalAbove: '500.00',
    promiseDays: 14,
    ...scenario.account,
    version: first.version + 1,
  });
  createKey(app, owner, 'Demo shop', scenario.demoKey);
  for (const [currency, rates] of Object.entries(scenario.exchange))
    rates.forEach((rate, i) => setExchange(app, owner, { currency, day: scenario.exchangeDays[i]!, rate }));
  for (const p of scenario.demoProducts) {
    const { code, name, description, price, refundDays, rewardKind, reward, more } = p;
    const made = createProduct(app, owner, {
      code,
      name,
      description,
      currency: 'EUR',
      price,
      refundDays,
      salesPage: `${shopHost}/p/${code}`,
      rewardKind,
      reward,
      ...more,
    });
    if (more?.delivery === 'file')
      setFile(app, owner, made.id, {
        name: scenario.calculator.name,
        bytes: Buffer.from(scenario.calculator.content),
      });
    moveProduct(app, owner, made.id, { to: 'live', version: made.version });
  }
  // the introduction speaks of products, so it comes after them
  const { name, contact, rate, windowDays, landingHosts, version } = readSettings(app);
  saveProgramme(app, owner, {
    name,
    contact,
    intro: scenario.intro,
    summary: scenario.summary,
    rate,
    windowDays,
    landingHosts,
    version,
  });
  saveBuyerContacts(app, owner, { ...scenario.buyers, version: readSettings(app).version });
  const idOf = (code: string) => productByCode(app, code)!.id;
  for (const f of scenario.demoFunnels) {
    const steps = inARow(
      f.steps.map(({ code, product, price }) => ({ code, product: idOf(product), price })),
    );
    createFunnel(app, owner, { name: f.name, opening: idOf(f.opening), first: steps[0]!.code, steps });
  }
}

function raiseCourse(app: App, actor: Actor): void {
  const row = app.db.select({ id: products.id }).from(products).where(eq(products.code, 'THROW-V')).get()!;
  const { code, name, description, currency, price, refundDays, salesPage, rewardKind, version } =
    readProduct(app, row.id);
  editProduct(app, actor, row.id, {
    code,
    name,
    description,
    currency,
    price,
    refundDays,
    salesPage,
    rewardKind,
    reward: scenario.courseRaise.reward,
    version,
  });
}

function planRecruiting(
  app: App,
  plan: (at: number, act: () => void) => void,
  {
    a,
    manager,
    password,
    at,
  }: { a: DemoAffiliate; manager: Actor; password: string; at: (day: string, hour?: number) => number },
): void {
  const isWaiting = scenario.waiting.includes(a);
  const isDeclined = scenario.declined.includes(a);
  const order = [...scenario.demoAffiliates, ...scenario.declined, ...scenario.waiting].indexOf(a);
  // affiliates of the first days applied before history begins
  const applied = isWaiting ? at(a.joined, 8) + order * 7 * 60_000 : at(addDays(a.joined, -2), 18);
  plan(applied, () => {
    join(app, {
      name: a.name,
      email: a.email,
      country: a.country,
      address: a.address ?? `Kiln Lane ${order + 1}, Quarry Hill`,
      sites: [a.site],
      channels: a.channels,
      note: a.note,
      product: a.product,
      policy: true,
      ...(a.by ? { by: a.by } : {}),
    });
  });
  if (isWaiting) return;
  plan(at(a.joined, 0) + 60_000, () => {
    const row = app.db.select().from(affiliates).where(eq(affiliates.email, a.email)).get()!;
    const id = app.db
      .select({ id: applications.id })
      .from(applications)
      .where(eq(applications.affiliate, row.id))
      .get()!.id;
    if (isDeclined)
      decide(app, manager, {
        ids: [id],
        decision: 'decline',
        reason: 'The note stands word for word in other applications',
        message: order % 2 === 0,
      });
    else {
      decide(app, manager, { ids: [id], decision: 'approve', timing: a.timing, reason: '', message: true });
      const details = a.details
        ? {
            payeeHolder: a.name,
            payeeIban: madeUpIban(order + 1),
            payeeAddress: `Kiln Lane ${order + 1}, Quarry Hill`,
          }
        : {};
      app.db
        .update(affiliates)
        .set({ password, ...details })
        .where(eq(affiliates.id, row.id))
        .run();
      acceptTicked(app, row.id);
    }
    touch(app, 'records');
  });
}

/** Writes visits as the redirect does, straight into the tables: a test proves that both come to the same. */
function visitWriter(app: App) {
  const insert = app.sqlite.prepare(
    'INSERT INTO visits (id, link, affiliate, product, at, visitor, landing, sub_ids, barred) VALUES (?, ?, ?, ?, ?, ?, ?, NULL, ?)',
  );
  const count = app.sqlite.prepare(
    'INSERT INTO click_days (day, product, clicks) VALUES (?, ?, 1) ON CONFLICT (day, product) DO UPDATE SET clicks = clicks + 1',
  );
  const find = app.sqlite.prepare<
    [string, string],
    { code: string; affiliate: string; product: string; state: string }
  >(
    'SELECT l.code, l.affiliate, l.product, a.state FROM links l JOIN affiliates a ON a.id = l.affiliate JOIN products p ON p.id = l.product WHERE a.email = ? AND p.code = ?',
  );
  return (email: string, code: string, moment: number, automated: boolean): string | null => {
    const link = find.get(email, code);
    if (!link) return null;
    const id = newId('visit');
    const barred = automated
      ? 'the visitor looks automated'
      : link.state === 'active'
        ? null
        : `the affiliate is ${link.state}`;
    insert.run(
      id,
      link.code,
      link.affiliate,
      link.product,
      moment,
      newId('visitor'),
      `${shopHost}/p/${code}`,
      barred,
    );
    if (!automated) count.run(dayOf(moment, scenario.merchant.zone), link.product);
    return id;
  };
}

interface Purchase {
  reference: string;
  product: scenario.DemoProduct;
  visit: string | null;
  at: number;
  twice: boolean;
  refund: boolean;
  quantity: number;
  discount: boolean;
  currency: string;
  part: boolean;
  later: number;
  extras: { code: string; product: string; price: string }[];
  renewals: number;
}

const inCurrency: Record<string, Record<string, string>> = {
  EUR: {},
  USD: { 'WHEEL-1': '219.00', 'THROW-V': '99.00', 'KILN-S': '969.00', 'ROLL-1': '42.00', 'APRON-1': '49.50' },
  GBP: { 'WHEEL-1': '175.00', 'THROW-V': '79.00', 'KILN-S': '779.00', 'ROLL-1': '33.50', 'APRON-1': '40.00' },
  JPY: { 'WHEEL-1': '32000', 'THROW-V': '14500', 'KILN-S': '143000', 'ROLL-1': '6200', 'APRON-1': '7400' },
};

function buy(app: App, plan: (at: number, act: () => void) => void, p: Purchase): void {
  if (p.product.code === 'CALC-0') return lead(app, p);
  const price = inCurrency[p.currency]?.[p.product.code] ?? p.product.price;
  const quantity = p.product.more?.kind ? 1 : p.quantity;
  const whole = Number(price.replace('.', '')) * quantity;
  const text = (minor: number) =>
    p.currency === 'JPY'
      ? String(minor)
      : `${Math.floor(minor / 100)}.${String(minor % 100).padStart(2, '0')}`;
  // offers are sold in euro only
  const extras =
    p.currency === 'EUR'
      ? p.extras.map((e) => ({
          product: e.product,
          quantity: 1,
          amount: e.price || scenario.demoProducts.find((d) => d.code === e.product)!.price,
          step: e.code,
        }))
      : [];
  const subscription = p.product.more?.kind === 'recurring' ? `SUB-${p.reference.slice(2)}` : null;
  const report: OrderReport = {
    order: p.reference,
    placedAt: new Date(p.at).toISOString(),
    currency: p.currency,
    lines: [
      {
        product: p.product.code,
        quantity,
        amount: text(whole),
        ...(p.discount ? { discount: text(Math.floor(whole / 10)) } : {}),
      },
      ...extras,
    ],
    ...(p.visit ? { visit: p.visit } : {}),
    ...(subscription ? { subscription } : {}),
  };
  const body = JSON.stringify(report);
  const tell = (
    call: string,
    way: 'server' | 'picture',
    reference: string,
    take: () => ReturnType<typeof takeOrder>,
    text_: string,
  ) => {
    const taken = take();
    log(
      app,
      { call, way, key: scenario.demoKey.id, reference, body: text_ },
      { outcome: taken.answer.outcome, status: taken.status, said: taken.said, order: taken.order },
    );
  };
  tell('order', 'server', p.reference, () => takeOrder(app, normaliseOrder(app, report), 'server'), body);
  // what was refunded does not renew
  if (subscription && !p.refund)
    for (let n = 2; n <= p.renewals + 1; n += 1) planRenewal(app, plan, { p, subscription, number: n });
  if (p.twice)
    tell(
      'picture',
      'picture',
      p.reference,
      () => takePicture(app, normaliseOrder(app, report), scenario.demoKey.id),
      body,
    );
  if (!p.refund) return;
  const moment = p.at + Math.min(p.later, p.product.refundDays) * 24 * hours;
  plan(moment, () => {
    const back = {
      refund: `R-${p.reference.slice(2)}`,
      order: p.reference,
      at: new Date(moment).toISOString(),
      kind: 'refund' as const,
      ...(p.part
        ? { lines: [{ product: p.product.code, amount: text(Math.floor(whole * 0.3)) }] }
        : { full: true }),
    };
    tell('refund', 'server', back.refund, () => takeRefund(app, back), JSON.stringify(back));
  });
}

/** Somebody who left an address for the free product. */
function lead(app: App, p: Purchase): void {
  const report = {
    lead: `L-${p.reference.slice(2)}`,
    product: p.product.code,
    at: new Date(p.at).toISOString(),
    ...(p.visit ? { visit: p.visit } : {}),
  };
  const taken = takeLead(app, report);
  log(
    app,
    {
      call: 'lead',
      way: 'server',
      key: scenario.demoKey.id,
      reference: report.lead,
      body: JSON.stringify(report),
    },
    { outcome: taken.answer.outcome, status: taken.status, said: taken.said, order: taken.order },
  );
}

function planRenewal(
  app: App,
  plan: (at: number, act: () => void) => void,
  { p, subscription, number }: { p: Purchase; subscription: string; number: number },
): void {
  const details = detailsOf(productByCode(app, p.product.code)!);
  const moment = renewalMoment(p.at, details, number, scenario.merchant.zone);
  plan(moment, () => {
    const report = {
      subscription,
      payment: `${p.reference}-${number}`,
      number,
      placedAt: new Date(moment).toISOString(),
      currency: 'EUR',
      lines: [{ product: p.product.code, quantity: 1, amount: p.product.more!.renewalPrice! }],
    };
    const taken = takeRenewal(app, report);
    log(
      app,
      {
        call: 'renewal',
        way: 'server',
        key: scenario.demoKey.id,
        reference: report.payment,
        body: JSON.stringify(report),
      },
      { outcome: taken.answer.outcome, status: taken.status, said: taken.said, order: taken.order },
    );
  });
}

/** A past payout run: drafted by finance, approved by the owner, settled but for one line if a reason is given. */
function payRun(
  app: App,
  owner: Actor,
  { finance, cutoff, last }: { finance: Actor; cutoff: string; last: string },
): void {
  const id = createRun(app, finance, { cutoff, minimum: '25.00' });
  const { payments: proposed, total } = outlineOf(app, runById(app, id));
  if (!proposed.length) return;
  approveRun(app, owner, id, { version: runById(app, id).version, total });
  sendRun(app, finance, id, { version: runById(app, id).version });
  const rows = app.db.select().from(payments).where(eq(payments.run, id)).orderBy(payments.id).all();
  const lines = rows.map(
    (r, i) => `${r.endToEnd},${i === rows.length - 1 && last !== 'ACSC' ? `RJCT,${last}` : 'ACSC,'}`,
  );
  readStatusAtOnce(app, finance, 'status.csv', `end_to_end_id,status,reason\n${lines.join('\n')}\n`);
}

/** Reports that went wrong lately, for the log. */
function faultyReports(app: App): void {
  const key = app.db.select({ id: keys.id }).from(keys).get()!.id;
  const link = app.db.select().from(links).get()!;
  const row = (
    call: string,
    reference: string,
    outcome: string,
    status: number,
    said: string,
    body: object,
  ) =>
    log(
      app,
      { call, way: 'server', key, reference, body: JSON.stringify(body) },
      { outcome, status, said, order: null },
    );
  row('order', 'Q-4990', 'refused', 422, 'Currency is missing', {
    order: 'Q-4990',
    placedAt: '2027-03-12T08:10:00+00:00',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }],
    visit: link.code,
  });
  row('order', 'Q-4991', 'refused', 422, 'Product WHEEL is not known here', {
    order: 'Q-4991',
    placedAt: '2027-03-12T08:22:00+00:00',
    currency: 'EUR',
    lines: [{ product: 'WHEEL', quantity: 1, amount: '199.00' }],
  });
  row(
    'order',
    'Q-4992',
    'not-signed',
    401,
    'The signature does not fit: sign id, timestamp and the raw body, joined by dots, with the key’s secret',
    { order: 'Q-4992' },
  );
}

/** Busier before the holidays, quieter after, and at weekends. */
function seasonOf(day: string): number {
  const month = day.slice(0, 7);
  const base = { '2026-11': 0.9, '2026-12': 1.35, '2027-01': 0.8, '2027-02': 1, '2027-03': 1.1 }[month] ?? 1;
  const weekday = new Date(`${day}T12:00:00Z`).getUTCDay();
  const holiday = day >= '2026-12-24' && day <= '2026-12-27' ? 0.4 : 1;
  return base * (weekday === 0 || weekday === 6 ? 1.2 : 1) * holiday;
}
