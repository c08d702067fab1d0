/** An audience that a note speaks of: "12k subscribers" → 12,000 of subscribers. */
export interface AudienceClaim {
  /** as it is written */
  text: string;
  count: number;
  of: string;
}

const audiences =
  'subscribers?|readers?|followers?|members?|listeners?|viewers?|visitors?|people|pupils?|students?|fans?|users?|customers?|downloads?|views?|visits?|makers?|potters?|households?';
const small: Record<string, number> = {
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  nine: 9,
  ten: 10,
  eleven: 11,
  twelve: 12,
  thirteen: 13,
  fourteen: 14,
  fifteen: 15,
  sixteen: 16,
  seventeen: 17,
  eighteen: 18,
  nineteen: 19,
  twenty: 20,
  thirty: 30,
  forty: 40,
  fifty: 50,
  sixty: 60,
  seventy: 70,
  eighty: 80,
  ninety: 90,
};
const units: Record<string, number> = { hundred: 100, thousand: 1000, million: 1_000_000 };
const numberWord = `(?:${Object.keys(small).join('|')}|half a|a)`;
const inWords = `${numberWord}(?:[ -]${numberWord})?(?: (?:hundred|thousand|million))+`;
const inDigits = String.raw`\d{1,3}(?:[ ,.’']\d{3})+|\d+(?:[.,]\d+)?`;
// a number, perhaps "k" or "million", then at most four words, then who they are
const pattern = new RegExp(
  String.raw`(?<![\p{L}\p{N}.,])(?:(${inDigits})\s*(k|m|thousand|million|tsd|mio)?\b|(${inWords}))((?:\s+(?!and\b|but\b|or\b)[\p{L}-]+){0,4}?)\s+(${audiences})\b`,
  'giu',
);

function digits(text: string): number {
  // groups of three are thousands; one or two digits after a point are a fraction
  if (/^\d{1,3}([ ,.’']\d{3})+$/.test(text)) return Number(text.replace(/\D/g, ''));
  return Number(text.replace(',', '.'));
}

function words(text: string): number {
  let total = 0;
  for (const w of text.toLowerCase().split(/[ -]+/)) {
    if (w === 'a') total ||= 1;
    else if (w === 'half') total = 0.5;
    else if (small[w] !== undefined) total += small[w];
    else if (units[w] !== undefined) total = (total || 1) * units[w];
  }
  return total;
}

const scale: Record<string, number> = {
  k: 1000,
  thousand: 1000,
  tsd: 1000,
  m: 1_000_000,
  million: 1_000_000,
  mio: 1_000_000,
};

/**
 * Audiences that a note claims, in order: numbers in digits or English words that are followed by who they are.
 * Years, prices and percentages are not read, since nobody follows them.
 */
export function claimsIn(note: string): AudienceClaim[] {
  return [...note.matchAll(pattern)].map(([text, number, unit, said, , noun]) => {
    const count =
      number === undefined ? words(said ?? '') : digits(number) * (scale[unit?.toLowerCase() ?? ''] ?? 1);
    return { text: text.trim(), count: Math.round(count), of: noun!.toLowerCase() };
  });
}

/** From so many on, an audience should have left a trace in sales. */
const large = 10_000;
const days = 60;

/**
 * The claim that a record does not bear out: a large audience, time enough to show it, and next to no cleared sale.
 * @param tenureDays since joining; null = never an affiliate, so that nothing contradicts
 */
export function unborne(
  claims: readonly AudienceClaim[],
  cleared: number,
  tenureDays: number | null,
): AudienceClaim | null {
  if (tenureDays === null || tenureDays < days || cleared >= 10) return null;
  return claims.filter((c) => c.count >= large).sort((a, b) => b.count - a.count)[0] ?? null;
}
