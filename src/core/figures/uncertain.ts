/** 1.96: nineteen of twenty times the true share lies inside. */
const z = 1.96;

/** A share with the bounds between which it may well be, parts per million. */
export interface UncertainShare {
  ppm: number;
  low: number;
  high: number;
}

const ppm = (share: number) => Math.round(Math.min(1, Math.max(0, share)) * 1_000_000);

/**
 * A share of few events with its uncertainty: Wilson's score interval at 95 % (E. B. Wilson, 1927). Null where there was nothing to be a
 * share of. More hits than tries, as when one click brought two orders, count as all.
 */
export function wilson(hits: number, tries: number): UncertainShare | null {
  if (tries <= 0) return null;
  const share = Math.min(1, hits / tries);
  const spread = (z * z) / tries;
  const middle = (share + spread / 2) / (1 + spread);
  const half = (z / (1 + spread)) * Math.sqrt((share * (1 - share)) / tries + spread / (4 * tries));
  return { ppm: ppm(hits / tries), low: ppm(middle - half), high: ppm(middle + half) };
}
