import { inForce } from '../src/core/calendar/span';
import { percentOf } from '../src/core/money/percent';
import { buildBook, winner } from '../src/core/terms/book';
import { type OrderLine } from '../src/core/terms/order';
import { rungs, width, type AffiliateTerms, type Rate } from '../src/core/terms/rate';
import { amountsOf } from '../src/core/terms/resolve';
import { resolveWithWorking } from '../src/core/terms/resolve-working';
import { Seeded } from '../src/demo/random';
import { report } from './report';

const rateCount = 200;
const affiliateCount = 30_000;
const lineCount = 1_000_000;

function programme(random: Seeded): { rates: Rate[]; affiliates: AffiliateTerms[] } {
  // one rate a product and two for everybody; the rest by card, group, tag and person, as a programme grows them
  const rates = Array.from({ length: rateCount }, (_, i): Rate => {
    const rung =
      i < 2 ? 'programme' : i < 42 ? 'product' : random.pick(['card', 'group', 'tag', 'personal'] as const);
    const whos: Record<Rate['rung'], Rate['who']> = {
      personal: `aff_${random.whole(0, affiliateCount - 1)}`,
      tag: `set_tag${random.whole(0, 19)}`,
      group: `set_grp${random.whole(0, 9)}`,
      card: `set_crd${random.whole(0, 4)}`,
      product: null,
      programme: null,
    };
    const what: Rate['what'] =
      rung === 'product'
        ? { type: 'product', product: `prd_${i - 2}` }
        : random.chance(0.7) && rung !== 'programme'
          ? { type: 'product', product: `prd_${random.whole(0, 39)}` }
          : { type: 'everything' };
    return {
      id: `rat_${i}`,
      mode: 'base',
      payments: null,
      cap: null,
      rung,
      who: whos[rung],
      what,
      event: 'sale',
      reward: { type: 'percent', ppm: random.whole(1, 40) * 10_000 },
      from: random.whole(0, 1000),
      until: random.chance(0.3) ? random.whole(1001, 2000) : null,
      label: '',
    };
  });
  const affiliates = Array.from({ length: affiliateCount }, (_, i): AffiliateTerms => ({
    affiliate: `aff_${i}`,
    card: `set_crd${i % 5}`,
    group: i % 3 === 0 ? { id: `set_grp${i % 10}`, paused: i % 30 === 0 } : null,
    tags: i % 4 === 0 ? [`set_tag${i % 20}`, `set_tag${(i + 7) % 20}`] : [],
  }));
  return { rates, affiliates };
}

/** Whether a rate of a rung that names somebody names these. */
const names: Record<Rate['rung'], (who: Rate['who'], terms: AffiliateTerms) => boolean> = {
  personal: (who, terms) => who === terms.affiliate,
  tag: (who, terms) => terms.tags.some((tag) => tag === who),
  group: (who, terms) => who === terms.group?.id && !terms.group.paused,
  card: (who, terms) => who === terms.card,
  product: () => true,
  programme: () => true,
};

/** The ladder by a plain scan of all rates for each line: what the index is measured against. */
function scan(rates: readonly Rate[], terms: AffiliateTerms, product: string, at: number): Rate | null {
  let best: Rate | null = null;
  let rank = 0;
  for (const r of rates) {
    if (!inForce(r, at) || (r.what.type === 'product' && r.what.product !== product)) continue;
    if (!names[r.rung](r.who, terms)) continue;
    const tag = r.rung === 'tag' ? terms.tags.findIndex((tag) => tag === r.who) : 0;
    const own = (rungs.indexOf(r.rung) * 10 + width(r.what)) * 100 + tag;
    if (!best || own < rank || (own === rank && r.from > best.from)) {
      best = r;
      rank = own;
    }
  }
  return best;
}

/** Lines a second over so many lines. */
function rateOf(lines: number, work: (i: number) => number): { perSecond: number; sum: number } {
  let sum = 0;
  const began = performance.now();
  for (let i = 0; i < lines; i += 1) sum += work(i);
  return { perSecond: Math.round((lines * 1000) / (performance.now() - began)), sum };
}

const forty: OrderLine[] = Array.from({ length: 40 }, (_, i) => ({
  product: `prd_${i}`,
  kind: 'one-off',
  name: 'x',
  quantity: 1,
  amount: 1000 + i * 137,
  discount: 0,
  approved: true,
}));
const line = (i: number) => forty[i % 40]!;
const ppmOf = (rate: Rate | null) => (rate ? (rate.reward as { ppm: number }).ppm : 0);

/** The same question in each of its ways, by number: who asks and when is drawn once. */
function waysOf(random: Seeded) {
  const { rates, affiliates } = programme(random);
  const book = buildBook(rates);
  const who = Array.from({ length: 4096 }, () => affiliates[random.whole(0, affiliateCount - 1)]!);
  const when = Array.from({ length: 4096 }, () => random.whole(500, 2500));
  const ask = (i: number) => ({ terms: who[i & 4095]!, at: when[(i * 7) & 4095]! });
  // made beforehand: reading them is part of either side, making them of none
  const made = Array.from({ length: 40 * 4096 }, (_, i) => ({
    event: 'sale' as const,
    at: ask(i).at,
    currency: 'EUR',
    base: 'EUR',
    rateMicros: 1,
    lines: [line(i)],
  }));
  const order = (i: number) => made[i % made.length]!;
  return {
    order,
    indexed: (i: number) =>
      ppmOf(winner(book, ask(i).terms, line(i), { event: 'sale', at: ask(i).at, payment: 1, rows: [] })),
    scanned: (i: number) => ppmOf(scan(rates, ask(i).terms, line(i).product, ask(i).at)),
    amount: (i: number) => amountsOf(book, who[i & 4095]!, order(i))[0]!,
    working: (i: number) => resolveWithWorking(book, ask(i).terms, order(i)).total,
  };
}
type Ways = ReturnType<typeof waysOf>;

/** Finding the rate alone: the index against the scan of all rates. */
function benchFinding({ indexed, scanned }: Ways): void {
  const check = 20_000;
  if (rateOf(check, indexed).sum !== rateOf(check, scanned).sum)
    throw new Error('The index and the scan differ');
  const found = rateOf(lineCount, indexed).perSecond;
  const plain = rateOf(lineCount / 10, scanned).perSecond;
  report(
    `finding the rate of ${lineCount.toLocaleString('en-GB')} lines, ${rateCount} rates, ${affiliateCount.toLocaleString('en-GB')} affiliates ÷ scanning all rates`,
    { ours: found, limit: plain, ratio: Number((found / plain).toFixed(2)) },
    5,
  );
}

/** From lines to amounts: against the scan, and against the arithmetic alone. Returns lines a second. */
function benchAmounts({ order, indexed, scanned, amount }: Ways): number {
  // the same lines with the answer written down: what the multiplication and its rounding alone would take
  const known = Int32Array.from({ length: lineCount }, (_, i) => indexed(i));
  const bare = (i: number) => percentOf(order(i).lines[0]!.amount, known[i]!);
  rateOf(50_000, bare);
  // by turns, the best of several: this machine's speed changes from one second to the next
  const turns = Array.from({ length: 5 }, () => ({
    resolved: rateOf(lineCount, amount),
    arithmetic: rateOf(lineCount, bare),
    plain: rateOf(lineCount / 20, scanned),
  }));
  if (turns[0]!.arithmetic.sum !== turns[0]!.resolved.sum)
    throw new Error('The resolver and the arithmetic with the answer known differ');
  const best = (way: keyof (typeof turns)[number]) => Math.max(...turns.map((t) => t[way].perSecond));
  const [resolved, arithmetic, scanning] = [best('resolved'), best('arithmetic'), best('plain')];
  report(
    `resolving ${lineCount.toLocaleString('en-GB')} lines to amounts ÷ scanning all rates`,
    { ours: resolved, limit: scanning, ratio: Number((resolved / scanning).toFixed(2)) },
    5,
  );
  report(
    'resolving lines to amounts ÷ the arithmetic alone with the answer known',
    { ours: resolved, limit: arithmetic, ratio: Number((resolved / arithmetic).toFixed(3)) },
    0.1,
  );
  return resolved;
}

/** Resolving lines: the index against the scan, the whole order against the winner alone, and the working against the amount. */
export function benchResolve(): void {
  const ways = waysOf(new Seeded(7));
  rateOf(50_000, ways.indexed);
  rateOf(20_000, ways.scanned);
  rateOf(50_000, ways.amount);
  rateOf(5_000, ways.working);
  benchFinding(ways);
  const resolved = benchAmounts(ways);
  const explained = rateOf(lineCount / 20, ways.working).perSecond;
  report(
    'the same with its working built ÷ the amount alone',
    { ours: explained, limit: resolved, ratio: Number((explained / resolved).toFixed(2)) },
    0.2,
  );
}
