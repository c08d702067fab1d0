import { eq } from 'drizzle-orm';
import { inARow } from '../core/pricing/funnel';
import { type Actor, type App } from '../server/ground/context';
import { products } from '../server/ground/tables/catalogue';
import { setFile } from '../server/registers/catalogue/files';
import { productByCode } from '../server/registers/catalogue/store';
import { setExchange } from '../server/registers/exchange/rates';
import { createFunnel } from '../server/setup/products/funnels';
import { createProduct, editProduct, moveProduct } from '../server/setup/products/service';
import { readProduct } from '../server/setup/products/view';
import { readSettings, saveBuyerContacts, saveMoney, saveProgramme } from '../server/setup/settings/settings';
import { createKey } from '../server/track/connection/connection';
import * as scenario from './scenario';

/** The programme as it opened: settings, the shop's key, exchange rates, products, funnels. */
export function found(app: App, owner: Actor): void {
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
  makeProducts(app, owner);
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
  makeFunnels(app, owner);
}

function makeProducts(app: App, owner: Actor): void {
  for (const p of scenario.demoProducts) {
    const { code, name, description, price, refundDays, rewardKind, reward, more } = p;
    const made = createProduct(app, owner, {
      code,
      name,
      description,
      currency: 'EUR',
      price,
      refundDays,
      salesPage: `${scenario.shopHost}/p/${code}`,
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
}

function makeFunnels(app: App, owner: Actor): void {
  const idOf = (code: string) => productByCode(app, code)!.id;
  for (const f of scenario.demoFunnels) {
    const steps = inARow(
      f.steps.map(({ code, product, price }) => ({ code, product: idOf(product), price })),
    );
    createFunnel(app, owner, { name: f.name, opening: idOf(f.opening), first: steps[0]!.code, steps });
  }
}

/** The course pays more from a day on. */
export function raiseCourse(app: App, actor: Actor): void {
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
