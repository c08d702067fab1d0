import { randomUUID } from 'node:crypto';
import { Client } from '../../scripts/journey/client';
import type { Seeded } from '../../src/demo/random';
import { signHeaders } from '../../src/standins/signing';

/** What was answered with success and therefore must be there after any crash. */
export interface Acknowledged {
  orders: Set<string>;
  refunds: Set<string>;
  sent: Set<string>;
  steps: Record<Step, number>;
}

export type Step = 'drafted' | 'approved' | 'sent' | 'collected';

export interface Shop {
  key: { id: string; secret: string };
  visits: string[];
}

/** What one start of the server lives through: how much is acknowledged, and whether it is over. */
export class Round {
  over = false;
  #sales = 0;
  #steps = 0;
  readonly reached: Promise<void>;
  #end!: () => void;

  /** @param until so many acknowledged sales, or so many acknowledged steps of paying */
  constructor(readonly until: { sales: number } | { steps: number }) {
    this.reached = new Promise((resolve) => {
      this.#end = resolve;
    });
  }

  sale(): void {
    this.#sales += 1;
    this.#judge();
  }

  step(): void {
    this.#steps += 1;
    this.#judge();
  }

  #judge(): void {
    if ('sales' in this.until ? this.#sales < this.until.sales : this.#steps < this.until.steps) return;
    // set at once: whoever was acknowledged last begins nothing more
    this.over = true;
    this.#end();
  }
}

/** Asks a server that runs, once more where a connection of the one before was still kept. */
export async function connected<T>(ask: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await ask();
    } catch (fault) {
      if (tries === 10) throw fault;
    }
  }
}

/** Does something again and again until the round is over; a lost connection is not the end of it. */
export async function untilOver(round: Round, work: (n: number) => Promise<void>): Promise<void> {
  for (let n = 0; !round.over; n += 1) {
    try {
      await work(n);
    } catch (fault) {
      // the server is gone, or closed a connection that was kept: the first of these ends the round, the second does not
      if (!(fault instanceof TypeError) && !(fault instanceof SyntaxError)) throw fault;
      await new Promise((r) => setImmediate(r));
    }
  }
}

/** Sends orders and refunds without a pause. @param ahead how far the programme's clock is ahead of the machine's, ms */
export function sell(
  address: string,
  {
    shop,
    round,
    name,
    ahead,
    ack,
    random,
  }: { shop: Shop; round: Round; name: string; ahead: number; ack: Acknowledged; random: Seeded },
): Promise<void> {
  const client = new Client(address);
  const now = () => new Date(Date.now() + ahead).toISOString();
  const send = async (call: string, body: object) => {
    const text = JSON.stringify(body);
    const headers = signHeaders({
      key: shop.key.id,
      secret: shop.key.secret,
      id: randomUUID(),
      timestamp: String(Math.floor(Date.now() / 1000)),
      body: text,
    });
    return (await client.send('POST', `/api/track/v1/${call}`, text, headers)).status;
  };
  return untilOver(round, async (n) => {
    const reference = `K-${name}-${n}`;
    const status = await send('orders', {
      order: reference,
      placedAt: now(),
      currency: 'EUR',
      lines: [{ product: 'POT-1', quantity: 1, amount: `${random.whole(20, 300)}.${random.whole(10, 99)}` }],
      visit: random.pick(shop.visits),
    });
    if (status !== 201) return;
    ack.orders.add(reference);
    round.sale();
    if (
      n % 4 === 0 &&
      (await send('refunds', {
        refund: `R-${reference}`,
        order: reference,
        at: now(),
        kind: 'refund',
        full: true,
      })) === 201
    )
      ack.refunds.add(`R-${reference}`);
  });
}

export interface Run {
  id: string;
  state: string;
  version: number;
  total: { amount: number };
  payees: number;
}

type Take = (step: Step) => void;

/** Sends a draft on; one that was drafted before anything had cleared pays nobody, whatever comes later, and goes. */
async function approveOrDiscard(desk: Client, run: Run, acknowledged: Take): Promise<void> {
  if (run.payees === 0) {
    await desk.post(`/api/v1/payouts/${run.id}/discard`, { version: run.version });
    return;
  }
  const body = { version: run.version, total: run.total.amount };
  if ((await desk.post<Run>(`/api/v1/payouts/${run.id}/approve`, body)).body.state === 'approved')
    acknowledged('approved');
}

/** Has the bank answer each of its files: where more than two lines wait, the first is rejected. */
async function answerFiles(bank: Client): Promise<void> {
  const files = (
    await bank.get<{ id: string; lines: { endToEnd: string; status: string }[] }[]>('/bank/files.json')
  ).body;
  for (const file of files) {
    const waiting = file.lines.filter((l) => l.status === 'waiting');
    if (waiting.length)
      await bank.form(
        `/bank/files/${file.id}/answer`,
        waiting.length > 2 ? { [waiting[0]!.endToEnd]: 'AC04' } : {},
      );
  }
}

/** Drafts, approves, sends, hands over and settles runs; takes up what an earlier crash left. @param desk signed in before the first kill: its session outlives them */
export function pay(
  desk: Client,
  { standins, round, today, ack }: { standins: string; round: Round; today: string; ack: Acknowledged },
): Promise<void> {
  const bank = new Client(standins);
  const acknowledged = (step: Step) => {
    ack.steps[step] += 1;
    round.step();
  };
  const settle = async (run: Run) => {
    ack.sent.add(run.id);
    await desk.post(`/api/v1/payouts/${run.id}/deliver`, { version: run.version });
    await answerFiles(bank);
    if ((await desk.post('/api/v1/payouts/collect')).status === 200) acknowledged('collected');
  };
  const send = async (run: Run) => {
    const sent = await desk.post<Run>(`/api/v1/payouts/${run.id}/send`, { version: run.version });
    if (sent.body.state !== 'sent') return;
    ack.sent.add(run.id);
    acknowledged('sent');
  };
  return untilOver(round, async () => {
    const listed = await desk.get<{ rows: Run[] }>('/api/v1/payouts');
    if (listed.status !== 200) throw new Error(`payouts are answered ${listed.status}: ${listed.text}`);
    const open = listed.body.rows.find((r) => r.state !== 'settled');
    if (!open) {
      if ((await desk.post('/api/v1/payouts', { cutoff: today, minimum: '0.00' })).status === 200)
        acknowledged('drafted');
      return;
    }
    const run = (await desk.get<Run>(`/api/v1/payouts/${open.id}`)).body;
    if (run.state === 'draft') await approveOrDiscard(desk, run, acknowledged);
    // what a kill interrupted goes on by itself
    else if (['approving', 'reopening', 'sending'].includes(run.state))
      await new Promise((r) => setImmediate(r));
    else if (run.state === 'approved') await send(run);
    else await settle(run);
  });
}
