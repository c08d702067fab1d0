/**
 * a × b ÷ c, exact, rounded once, half away from zero.
 * Plain integers where the product fits 2^53, BigInt beyond.
 * @param a any safe integer @param b any safe integer @param c a positive safe integer
 * @throws BeyondAmounts if an argument is no safe integer, or the result, leaves ±2^53; RangeError if c is not positive
 */
export function mulDiv(a: number, b: number, c: number): number {
  const product = a * b;
  if (
    product <= SAFE &&
    product >= -SAFE &&
    Number.isInteger(a) &&
    Number.isInteger(b) &&
    Number.isInteger(c) &&
    c > 0
  ) {
    const rest = product % c;
    const whole = (product - rest) / c;
    // rest has the sign of the product; 2·rest may leave the safe range, the difference cannot.
    // Adding 0 turns −0 into 0.
    if (rest >= 0) return (rest >= c - rest ? whole + 1 : whole) + 0;
    return (-rest >= c + rest ? whole - 1 : whole) + 0;
  }
  return mulDivBig(a, b, c);
}

const SAFE = Number.MAX_SAFE_INTEGER;

/** An amount that no figure can hold: beyond ±2^53 minor units. Refused where it would be made, never rounded or cut silently. */
export class BeyondAmounts extends RangeError {}

/** The amount, if figures can hold it. @throws BeyondAmounts */
export function safely(amount: number, what: string): number {
  if (!Number.isSafeInteger(amount))
    throw new BeyondAmounts(`${what} is beyond what an amount can hold (±2^53 minor units)`);
  return amount;
}

function mulDivBig(a: number, b: number, c: number): number {
  for (const value of [a, b, c]) {
    if (!Number.isSafeInteger(value)) throw new BeyondAmounts(`${value} is not a whole number within ±2^53`);
  }
  if (c <= 0) throw new RangeError(`The divisor must be positive, not ${c}`);
  const product = BigInt(a) * BigInt(b);
  const divisor = BigInt(c);
  const magnitude = product < 0n ? -product : product;
  const rounded = (2n * magnitude + divisor) / (2n * divisor);
  if (rounded > BigInt(SAFE))
    throw new BeyondAmounts(`${a} × ${b} ÷ ${c} is beyond what an amount can hold (±2^53)`);
  return Number(product < 0n ? -rounded : rounded);
}
