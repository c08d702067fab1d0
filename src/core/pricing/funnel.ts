import { mulDiv } from '../money/rounding';

/** A follow-on offer: where a yes and a no lead; null = to the confirmation page. */
export interface FunnelStep {
  code: string;
  product: string;
  onYes: string | null;
  onNo: string | null;
}

/** What is wrong with a funnel, in words that name the step. */
export interface FunnelFault {
  step: string | null;
  detail: string;
}

/**
 * Checks that every buyer comes to an end: no way leads back to a step that was passed, no step leads nowhere known,
 * and every step can be reached.
 * @param first code of the step after the opening product, or null
 */
export function faultsOfFunnel(first: string | null, steps: readonly FunnelStep[]): FunnelFault[] {
  const faults: FunnelFault[] = [];
  const known = new Map(steps.map((s) => [s.code, s]));
  if (known.size !== steps.length) faults.push({ step: null, detail: 'Two steps have the same code' });
  if (first !== null && !known.has(first))
    faults.push({ step: null, detail: `The opening leads to ${first}, which is no step of this funnel` });
  for (const s of steps) {
    for (const [way, to] of [
      ['yes', s.onYes],
      ['no', s.onNo],
    ] as const) {
      if (to !== null && !known.has(to))
        faults.push({
          step: s.code,
          detail: `On ${way}, ${s.code} leads to ${to}, which is no step of this funnel`,
        });
    }
  }
  const loop = findLoop(known, first);
  if (loop)
    faults.push({
      step: loop[0]!,
      detail: `Buyers would go round in a circle: ${[...loop, loop[0]].join(' → ')}`,
    });
  if (!faults.length) {
    const reached = reachable(known, first);
    for (const s of steps)
      if (!reached.has(s.code)) faults.push({ step: s.code, detail: `No way leads to ${s.code}` });
  }
  return faults;
}

function findLoop(known: ReadonlyMap<string, FunnelStep>, first: string | null): string[] | null {
  const done = new Set<string>();
  const walk = (code: string | null, path: string[]): string[] | null => {
    if (code === null || done.has(code)) return null;
    const at = path.indexOf(code);
    if (at >= 0) return path.slice(at);
    const step = known.get(code);
    if (!step) return null;
    const found = walk(step.onYes, [...path, code]) ?? walk(step.onNo, [...path, code]);
    done.add(code);
    return found;
  };
  for (const start of [first, ...known.keys()]) {
    const found = walk(start, []);
    if (found) return found;
  }
  return null;
}

function reachable(known: ReadonlyMap<string, FunnelStep>, first: string | null): Set<string> {
  const reached = new Set<string>();
  const queue = [first];
  for (let code = queue.pop(); queue.length >= 0 && code !== undefined; code = queue.pop()) {
    const step = code === null ? undefined : known.get(code);
    if (!step || reached.has(step.code)) continue;
    reached.add(step.code);
    queue.push(step.onYes, step.onNo);
  }
  return reached;
}

/** The ways out of steps in a row: a yes and a no both lead to the next, the last to the confirmation page. */
export function inARow<T extends { code: string }>(
  steps: readonly T[],
): (T & Pick<FunnelStep, 'onYes' | 'onNo'>)[] {
  return steps.map((s, i) => ({ ...s, onYes: steps[i + 1]?.code ?? null, onNo: steps[i + 1]?.code ?? null }));
}

/** What a hundred purchases of the opening product bring down a funnel, minor units of base. */
export interface FunnelValue {
  value: number;
  commission: number;
  left: number;
}

/**
 * Value, commission and what is left of a hundred openings with the follow-on offers that were taken, at the rates of the past.
 * @param openings so many purchases of the opening product @param sums value and commission of them and of each step, minor units of base
 * @returns null where nothing was sold yet
 */
export function valuePer100(
  openings: number,
  sums: readonly { value: number; commission: number }[],
): FunnelValue | null {
  if (openings <= 0) return null;
  const per100 = (amount: number) => mulDiv(amount, 100, openings);
  const value = per100(sums.reduce((s, x) => s + x.value, 0));
  const commission = per100(sums.reduce((s, x) => s + x.commission, 0));
  return { value, commission, left: value - commission };
}
