import { formatPercent } from '../money/percent';

/** What a rule may ask of an applicant; everything that is named must hold. */
export interface Conditions {
  /** cleared sales, at least */
  clearedLeast?: number;
  /** shrunk refund rate, at most; parts per million */
  refundsMost?: number;
  standingLeast?: number;
  /** whole days as an affiliate, at least */
  tenureLeast?: number;
  countryIn?: string[];
  countryNotIn?: string[];
  /** whether there is a note */
  note?: boolean;
  /** whether no other note is nearly the same */
  original?: boolean;
  /** whether the registry vouches for the applicant */
  vouched?: boolean;
  /** ids of products */
  products?: string[];
}

export type RuleOutcome =
  { do: 'approve'; timing: 'at-sale' | 'after-hold' } | { do: 'decline'; reason: string } | { do: 'person' };

export interface ScreeningRule {
  id: string;
  conditions: Conditions;
  outcome: RuleOutcome;
  on: boolean;
}

/** What is known of an applicant at the moment of applying. */
export interface ScreeningFacts {
  cleared: number;
  refundPpm: number;
  /** null: no record yet */
  standing: number | null;
  /** null: never an affiliate */
  tenureDays: number | null;
  country: string;
  note: boolean;
  /** notes of others that are nearly the same */
  alike: number;
  product: string | null;
  /** false where it was not known when it was decided */
  vouched?: boolean;
}

/** True if everything that a rule names holds. What nobody knows of an applicant (standing, tenure) does not hold. */
export function applies(c: Conditions, f: ScreeningFacts): boolean {
  return (
    (c.clearedLeast === undefined || f.cleared >= c.clearedLeast) &&
    (c.refundsMost === undefined || f.refundPpm <= c.refundsMost) &&
    (c.standingLeast === undefined || (f.standing !== null && f.standing >= c.standingLeast)) &&
    (c.tenureLeast === undefined || (f.tenureDays !== null && f.tenureDays >= c.tenureLeast)) &&
    (c.countryIn === undefined || c.countryIn.includes(f.country)) &&
    (c.countryNotIn === undefined || !c.countryNotIn.includes(f.country)) &&
    (c.note === undefined || c.note === f.note) &&
    (c.original === undefined || c.original === (f.note && f.alike === 0)) &&
    (c.vouched === undefined || c.vouched === (f.vouched ?? false)) &&
    (c.products === undefined || (f.product !== null && c.products.includes(f.product)))
  );
}

/** The first rule, in order, that is on and applies; null = a person decides. */
export function decidedBy(rules: readonly ScreeningRule[], facts: ScreeningFacts): ScreeningRule | null {
  return rules.find((r) => r.on && applies(r.conditions, facts)) ?? null;
}

/** A rule as a sentence. @param productName of an id */
export function sentenceOf(
  { conditions: c, outcome }: Pick<ScreeningRule, 'conditions' | 'outcome'>,
  productName: (id: string) => string,
): string {
  const list = (of: string[]) => of.join(' or ');
  const parts = [
    ...(c.products ? [`the application is for ${list(c.products.map(productName))}`] : []),
    ...(c.clearedLeast === undefined ? [] : [`cleared sales are at least ${c.clearedLeast}`]),
    ...(c.refundsMost === undefined ? [] : [`the refund rate is at most ${formatPercent(c.refundsMost)}`]),
    ...(c.standingLeast === undefined ? [] : [`the standing is at least ${c.standingLeast}`]),
    ...(c.tenureLeast === undefined ? [] : [`the applicant has been an affiliate for ${c.tenureLeast} days`]),
    ...(c.countryIn ? [`the country is ${list(c.countryIn)}`] : []),
    ...(c.countryNotIn ? [`the country is not ${list(c.countryNotIn)}`] : []),
    ...(c.note === undefined ? [] : [c.note ? 'there is a note' : 'there is no note']),
    ...(c.original === undefined
      ? []
      : [c.original ? 'the note is like no other' : 'the note is nearly the same as another, or missing']),
  ];
  if (c.vouched !== undefined)
    parts.push(
      c.vouched ? 'the registry vouches for the applicant' : 'the registry does not vouch for the applicant',
    );
  const then =
    outcome.do === 'approve'
      ? `approve, ${outcome.timing === 'at-sale' ? 'at sale' : 'after hold'}`
      : outcome.do === 'decline'
        ? `decline: ${outcome.reason}`
        : 'leave it to a person';
  return `${parts.length ? `Where ${parts.join(', and ')}` : 'In every case'}: ${then}`;
}

/** Cleared sales that at-sale timing asks for at the least: newcomers begin after hold. */
export const atSaleRecord = 10;

export interface RuleFault {
  field: string;
  detail: string;
  example: string;
}

/** What cannot stand in a rule: contradictions, and what would decide money without a record. */
export function faultsOfRule({
  conditions: c,
  outcome,
}: Pick<ScreeningRule, 'conditions' | 'outcome'>): RuleFault[] {
  const faults: RuleFault[] = [];
  const barred = c.countryIn?.filter((x) => c.countryNotIn?.includes(x)) ?? [];
  if (barred.length)
    faults.push({
      field: 'countryNotIn',
      detail: `${barred.join(', ')} cannot be among the countries asked for and among those ruled out: the rule would contradict itself`,
      example: 'one of the two lists',
    });
  if (c.note === false && c.original === true)
    faults.push({
      field: 'original',
      detail: 'A missing note is like no other only by not being there: the rule would contradict itself',
      example: 'there is a note',
    });
  if (c.note === true && c.original === undefined && Object.keys(c).length === 1 && outcome.do === 'approve')
    faults.push({
      field: 'note',
      detail: 'A note alone would let in everybody who writes one; name something that tells people apart',
      example: 'cleared sales of at least 10',
    });
  if (Object.keys(c).length === 0 && outcome.do !== 'person')
    faults.push({
      field: 'conditions',
      detail: `Without a condition the rule would ${outcome.do} everybody`,
      example: 'cleared sales of at least 10',
    });
  if (outcome.do === 'approve' && outcome.timing === 'at-sale' && (c.clearedLeast ?? 0) < atSaleRecord)
    faults.push({
      field: 'clearedLeast',
      detail: `Newcomers begin after hold: at sale asks for at least ${atSaleRecord} cleared sales`,
      example: '50',
    });
  if (outcome.do === 'decline' && outcome.reason.trim() === '')
    faults.push({
      field: 'reason',
      detail: 'Reason is empty: the applicant reads it',
      example: 'We are looking for people with a site of their own',
    });
  return faults;
}
