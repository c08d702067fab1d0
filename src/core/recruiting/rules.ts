import { timingWords, type Timing } from '../ledger/timing';
import { formatPercent } from '../money/percent';
import type { Id } from '../text/id';
import type { PracticeAnswer, PracticeKey } from './practices';

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
  products?: Id<'product'>[];
  /** whether everything that the applicant means to use is welcome */
  welcome?: boolean;
  /** means to use one of these */
  uses?: PracticeKey[];
}

export type RuleOutcome =
  { do: 'approve'; timing: Timing } | { do: 'decline'; reason: string } | { do: 'person' };

export interface ScreeningRule {
  id: Id<'rule'>;
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
  product: Id<'product'> | null;
  /** false where it was not known when it was decided */
  vouched?: boolean;
  /** what it means to use, and the strictest answer of the policy to that; left out where it was not known when it was decided */
  practices?: PracticeKey[];
  strictest?: PracticeAnswer | null;
}

/** How each condition is looked at. What nobody knows of an applicant (standing, tenure) does not hold. */
const tests: {
  [K in keyof Required<Conditions>]: (asked: Required<Conditions>[K], f: ScreeningFacts) => boolean;
} = {
  clearedLeast: (least, f) => f.cleared >= least,
  refundsMost: (most, f) => f.refundPpm <= most,
  standingLeast: (least, f) => f.standing !== null && f.standing >= least,
  tenureLeast: (least, f) => f.tenureDays !== null && f.tenureDays >= least,
  countryIn: (list, f) => list.includes(f.country),
  countryNotIn: (list, f) => !list.includes(f.country),
  note: (asked, f) => asked === f.note,
  original: (asked, f) => asked === (f.note && f.alike === 0),
  vouched: (asked, f) => asked === (f.vouched ?? false),
  welcome: (asked, f) => asked === ((f.strictest ?? 'welcome') === 'welcome'),
  uses: (list, f) => list.some((key) => f.practices?.includes(key)),
  products: (list, f) => f.product !== null && list.includes(f.product),
};

function holds<K extends keyof Conditions>(key: K, c: Conditions, f: ScreeningFacts): boolean {
  const asked = c[key];
  return asked === undefined || tests[key](asked as Required<Conditions>[K], f);
}

/** True if everything that a rule names holds. */
export function applies(c: Conditions, f: ScreeningFacts): boolean {
  return (Object.keys(tests) as (keyof Conditions)[]).every((key) => holds(key, c, f));
}

/** The first rule, in order, that is on and applies; null = a person decides. */
export function decidedBy(rules: readonly ScreeningRule[], facts: ScreeningFacts): ScreeningRule | null {
  return rules.find((r) => r.on && applies(r.conditions, facts)) ?? null;
}

const anyOf = (list: string[]) => list.join(' or ');

type Namer = (id: string) => string;

/** How each condition reads, in the order of the sentence. */
type Clause = (c: Conditions, productName: Namer, practiceName: Namer) => string | undefined;
const clauses: Clause[] = [
  (c, productName) => c.products && `the application is for ${anyOf(c.products.map(productName))}`,
  (c) => said(c.clearedLeast, (n) => `cleared sales are at least ${n}`),
  (c) => said(c.refundsMost, (ppm) => `the refund rate is at most ${formatPercent(ppm)}`),
  (c) => said(c.standingLeast, (n) => `the standing is at least ${n}`),
  (c) => said(c.tenureLeast, (days) => `the applicant has been an affiliate for ${days} days`),
  (c) => c.countryIn && `the country is ${anyOf(c.countryIn)}`,
  (c) => c.countryNotIn && `the country is not ${anyOf(c.countryNotIn)}`,
  (c) => said(c.note, (asked) => (asked ? 'there is a note' : 'there is no note')),
  (c) =>
    said(c.original, (asked) =>
      asked ? 'the note is like no other' : 'the note is nearly the same as another, or missing',
    ),
  (c) =>
    said(c.vouched, (asked) =>
      asked ? 'the registry vouches for the applicant' : 'the registry does not vouch for the applicant',
    ),
  (c) =>
    said(c.welcome, (asked) =>
      asked
        ? 'everything that the applicant means to use is welcome'
        : 'the applicant means to use something that is asked first or not here',
    ),
  (c, _, practiceName) =>
    c.uses && `the applicant means to use ${anyOf(c.uses.map((key) => `“${practiceName(key)}”`))}`,
];

function said<T>(asked: T | undefined, words: (asked: T) => string): string | undefined {
  return asked === undefined ? undefined : words(asked);
}

function outcomeInWords(outcome: ScreeningRule['outcome']): string {
  switch (outcome.do) {
    case 'approve':
      return `approve, ${timingWords[outcome.timing]}`;
    case 'decline':
      return `decline: ${outcome.reason}`;
    case 'person':
      return 'leave it to a person';
  }
}

/** A rule as a sentence. @param name of a product’s id, or of a practice */
export function sentenceOf(
  { conditions, outcome }: Pick<ScreeningRule, 'conditions' | 'outcome'>,
  name: Namer,
): string {
  const parts = clauses.flatMap((clause) => clause(conditions, name, name) ?? []);
  const when = parts.length ? `Where ${parts.join(', and ')}` : 'In every case';
  return `${when}: ${outcomeInWords(outcome)}`;
}

/** Cleared sales that at-sale timing asks for at the least: newcomers begin after hold. */
export const atSaleRecord = 10;

export interface RuleFault {
  field: string;
  detail: string;
  example: string;
}

type Rule = Pick<ScreeningRule, 'conditions' | 'outcome'>;

const where = (found: boolean, fault: RuleFault): RuleFault[] => (found ? [fault] : []);

/** Conditions that can never hold together. */
function contradictions({ countryIn, countryNotIn, note, original }: Conditions): RuleFault[] {
  const barred = countryIn?.filter((x) => countryNotIn?.includes(x)) ?? [];
  return [
    ...where(barred.length > 0, {
      field: 'countryNotIn',
      detail: `${barred.join(', ')} cannot be among the countries asked for and among those ruled out: the rule would contradict itself`,
      example: 'one of the two lists',
    }),
    ...where(note === false && original === true, {
      field: 'original',
      detail: 'A missing note is like no other only by not being there: the rule would contradict itself',
      example: 'there is a note',
    }),
  ];
}

/** Rules that would decide of nearly everybody. */
function tooWide({ conditions: c, outcome }: Rule): RuleFault[] {
  const onlyNote = c.note === true && Object.keys(c).length === 1;
  return [
    ...where(onlyNote && outcome.do === 'approve', {
      field: 'note',
      detail: 'A note alone would let in everybody who writes one; name something that tells people apart',
      example: 'cleared sales of at least 10',
    }),
    ...where(Object.keys(c).length === 0 && outcome.do !== 'person', {
      field: 'conditions',
      detail: `Without a condition the rule would ${outcome.do} everybody`,
      example: 'cleared sales of at least 10',
    }),
  ];
}

function faultsOfOutcome({ conditions, outcome }: Rule): RuleFault[] {
  const atSale = outcome.do === 'approve' && outcome.timing === 'at-sale';
  return [
    ...where(atSale && (conditions.clearedLeast ?? 0) < atSaleRecord, {
      field: 'clearedLeast',
      detail: `Newcomers begin after hold: at sale asks for at least ${atSaleRecord} cleared sales`,
      example: '50',
    }),
    ...where(outcome.do === 'decline' && outcome.reason.trim() === '', {
      field: 'reason',
      detail: 'Reason is empty: the applicant reads it',
      example: 'We are looking for people with a site of their own',
    }),
  ];
}

/** What cannot stand in a rule: contradictions, and what would decide money without a record. */
export function faultsOfRule(rule: Rule): RuleFault[] {
  return [...contradictions(rule.conditions), ...tooWide(rule), ...faultsOfOutcome(rule)];
}
