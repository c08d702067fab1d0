import { toDecimal } from '../../src/core/money/amount';
import { Client } from './client';
import type { Row } from './print';

export interface Money {
  amount: number;
  currency: string;
}
interface Balances {
  held: Money;
  cleared: Money;
  inRun: Money;
  paid: Money;
}
interface Message {
  to: string;
  subject: string;
  body: string;
}

async function until<T>(what: string, probe: () => Promise<T | undefined>): Promise<T> {
  for (let tries = 0; tries < 60; tries += 1) {
    const found = await probe();
    if (found !== undefined) return found;
    await new Promise((r) => setTimeout(r, 250));
  }
  throw new Error(`${what} did not happen within 15 seconds`);
}

/** Who plays: the desk, the shop, an affiliate in the portal and somebody who buys; and what they have found so far. */
export class Stage {
  readonly rows: Row[] = [];
  readonly desk: Client;
  readonly shop: Client;
  readonly portal: Client;
  readonly visitor: Client;
  /** the affiliate's link to the wheel, from when it is known */
  link = '';
  /** the orders' references, in the order they were placed */
  readonly orders: string[] = [];
  private step = '';

  constructor(
    address: string,
    readonly standins: string,
  ) {
    [this.desk, this.portal, this.visitor] = [new Client(address), new Client(address), new Client(address)];
    this.shop = new Client(standins);
  }

  begin(step: string): void {
    this.step = step;
  }

  check(what: string, found: unknown, expected: unknown): void {
    this.rows.push({ step: this.step, what, expected: String(expected), found: String(found) });
  }

  mail(to: string, subject: RegExp): Promise<Message> {
    return until(`A message to ${to}`, async () =>
      (await this.shop.get<Message[]>('/mailroom/messages.json')).body.find(
        (m) => m.to === to && subject.test(m.subject),
      ),
    );
  }

  /** Compares the affiliate's balances, in euro: held, cleared, in run, paid. */
  async checkBalances(...expected: [string, string, string, string]): Promise<void> {
    const b = (await this.portal.get<{ balances: Balances }>('/api/v1/portal/home')).body.balances;
    this.check(
      'held · cleared · in run · paid',
      [b.held, b.cleared, b.inRun, b.paid].map((m) => toDecimal(m.amount, m.currency)).join(' · '),
      expected.join(' · '),
    );
  }

  /** Moves the clock. Returns how many commissions cleared meanwhile. */
  async forward(by: string): Promise<number> {
    return (await this.desk.post<{ cleared: number }>('/api/v1/clock', { by })).body.cleared;
  }

  /** The day it is now, as “2027-03-12”. */
  async today(): Promise<string> {
    return new Date((await this.desk.get<{ now: number }>('/api/v1/clock')).body.now)
      .toISOString()
      .slice(0, 10);
  }

  /** Follows the affiliate's link and buys. Returns the order's reference. */
  async buy(code: string, quantity: number): Promise<string> {
    const led = await this.visitor.get(this.link);
    const landing = led.headers.get('location') ?? '';
    const visit = new URL(landing).searchParams.get('gvn') ?? '';
    const paid = await this.shop.form(`/checkout/${code}`, {
      gvn: visit,
      quantity: String(quantity),
      buyer: 'buyer@potlovers.example',
      card: '1000 2000 3000 4000',
    });
    const reference = (paid.headers.get('location') ?? '').split('/').pop() ?? '';
    this.orders.push(reference);
    return reference;
  }

  /** What the shop says of an order, with our answers. */
  async answered(reference: string): Promise<string> {
    return (await this.shop.get(`/orders/${reference}`)).text;
  }
}
