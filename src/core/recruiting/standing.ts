import { wordCount } from './notes';

/** What a standing is made of. */
export interface StandingFacts {
  /** sales past their refund window that were not refunded */
  cleared: number;
  /** shrunk refund rate, parts per million */
  refundPpm: number;
  /** days since joining */
  tenureDays: number;
  sites: number;
  introduction: string;
  note: string;
}

/** One part: points of so many, and why. */
export interface StandingPart {
  part: 'record' | 'refunds' | 'tenure' | 'profile';
  points: number;
  of: number;
}

export const fullRecord = 1000;
const fullTenureDays = 3 * 365;
const noteWords = 40;
const [best, worst] = [20_000, 150_000];

const between = (x: number) => Math.min(1, Math.max(0, x));

/**
 * The parts of a standing, whole points: record 0–40 on a log scale, full at 1,000 cleared sales; refunds 0–30, full at 2 % and
 * none at 15 %; tenure 0–15, full at three years; profile 0–15, five each for a site, an introduction, a note of 40 words.
 * @returns null where there is no history to speak of: no sale has passed its refund window
 */
export function standingParts(facts: StandingFacts, sales: number): StandingPart[] | null {
  if (sales === 0) return null;
  const profile =
    (facts.sites > 0 ? 5 : 0) +
    (facts.introduction.trim() ? 5 : 0) +
    (wordCount(facts.note) >= noteWords ? 5 : 0);
  return [
    {
      part: 'record',
      of: 40,
      points: Math.round(40 * between(Math.log1p(facts.cleared) / Math.log1p(fullRecord))),
    },
    { part: 'refunds', of: 30, points: Math.round(30 * between((worst - facts.refundPpm) / (worst - best))) },
    { part: 'tenure', of: 15, points: Math.round(15 * between(facts.tenureDays / fullTenureDays)) },
    { part: 'profile', of: 15, points: profile },
  ];
}

/** The standing itself: the sum of its parts, 0–100. */
export function standingOf(parts: readonly StandingPart[]): number {
  return parts.reduce((sum, p) => sum + p.points, 0);
}
