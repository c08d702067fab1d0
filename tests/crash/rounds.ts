import { join } from 'node:path';
import Database from 'better-sqlite3';
import { expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import { Seeded } from '../../src/demo/random';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { openProgramme, openShop } from './opening';
import { data, kill, port, prepare, start } from './server';
import { connected, pay, Round, sell, type Acknowledged, type Shop } from './work';

const all = Number(process.env.GRAVENEL_KILLS ?? 50);
const given = Number(process.env.GRAVENEL_SEED ?? 20270312);

function check(ack: Acknowledged): void {
  const db = new Database(join(data, 'gravenel.sqlite'));
  try {
    expect(db.pragma('integrity_check', { simple: true })).toBe('ok');
    expect(brokenInvariants(db)).toEqual([]);
    const has = (sql: string) => new Set(db.prepare(sql).pluck().all() as string[]);
    const missing = (wanted: Set<string>, there: Set<string>) => [...wanted].filter((w) => !there.has(w));
    expect(missing(ack.orders, has('SELECT reference FROM orders')), 'acknowledged orders').toEqual([]);
    expect(missing(ack.refunds, has('SELECT reference FROM refunds')), 'acknowledged refunds').toEqual([]);
    expect(
      missing(ack.sent, has("SELECT id FROM runs WHERE state IN ('sent', 'settled') AND file IS NOT NULL")),
      'acknowledged sent runs',
    ).toEqual([]);
  } finally {
    db.close();
  }
  const bank = new Database(join(data, 'standins.sqlite'), { readonly: true });
  const ledger = new Database(join(data, 'gravenel.sqlite'), { readonly: true });
  try {
    const lines = (bank.prepare('SELECT lines FROM bank_files').pluck().all() as string[]).flatMap(
      (l) => JSON.parse(l) as { endToEnd: string; amount: string }[],
    );
    expect(new Set(lines.map((l) => l.endToEnd)).size, 'no payment reached the bank twice').toBe(
      lines.length,
    );
    const known = new Map(
      (ledger.prepare('SELECT end_to_end e, amount a FROM payments').all() as { e: string; a: number }[]).map(
        (p) => [p.e, p.a],
      ),
    );
    expect(
      lines.filter((l) => known.get(l.endToEnd) !== Math.round(Number(l.amount) * 100)),
      'each payment at the bank is one of ours',
    ).toEqual([]);
  } finally {
    bank.close();
    ledger.close();
  }
}

interface Played {
  address: string;
  standins: string;
  desk: Client;
  shop: Shop;
}

/** One start of the server: sales and payments go on until the round is over, then it is ended hard and what was acknowledged is looked for. */
async function playRound(
  n: number,
  seed: number,
  played: Played,
  { random, ack }: { random: Seeded; ack: Acknowledged },
) {
  const { address, standins, desk, shop } = played;
  const round = new Round(
    random.chance(0.5) ? { sales: random.whole(1, 12) } : { steps: random.whole(1, 4) },
  );
  await start();
  const { now } = (await connected(() => desk.get<{ now: number }>('/api/v1/clock'))).body;
  const ahead = now - Date.now();
  const today = new Date(now).toISOString().slice(0, 10);
  const seller = (name: string, own: number) =>
    sell(address, {
      shop,
      round,
      name: `${n}${name}`,
      ahead,
      ack,
      random: new Seeded(seed + n * 2 + own),
    });
  const work = Promise.all([seller('a', 0), seller('b', 1), pay(desk, { standins, round, today, ack })]);
  // a loop that fails for another reason than a lost connection ends the test, not its patience
  await Promise.race([round.reached, work]);
  await kill();
  await work;
  check(ack);
}

/**
 * The server is ended hard again and again, each time after so many acknowledged sales or payment steps as the seed draws: whatever was acknowledged is
 * there after the next start. Each part of the kills has a seed of its own, so that the parts can run beside each other.
 */
export function survives(part: number, parts: number): void {
  prepare();
  const kills = Math.ceil(all / parts);
  const seed = given + part * 1_000_000;
  it(
    `survives ${kills} kills, each after so many acknowledged sales or payment steps as the seed ${seed} draws`,
    async () => {
      const random = new Seeded(seed);
      const address = `http://127.0.0.1:${port}`;
      const standins = `http://127.0.0.1:${port + 1}`;
      const ack: Acknowledged = {
        orders: new Set(),
        refunds: new Set(),
        sent: new Set(),
        steps: { drafted: 0, approved: 0, sent: 0, collected: 0 },
      };
      const desk = await openProgramme(address, standins);
      const shop = await openShop(desk, address);
      for (let n = 0; n < kills; n += 1)
        await playRound(n, seed, { address, standins, desk, shop }, { random, ack });
      process.stdout.write(
        `acknowledged and found again: ${ack.orders.size} orders, ${ack.refunds.size} refunds, ${ack.sent.size} runs sent; steps ${JSON.stringify(ack.steps)}\n`,
      );
      expect(ack.orders.size).toBeGreaterThan(kills);
      expect(
        Math.min(...Object.values(ack.steps)),
        'each step of paying was acknowledged, again and again',
      ).toBeGreaterThan(kills / 10);
    },
    300_000 + kills * 30_000,
  );
}
