import { Refused } from '../../../kit/api';
import { type Rule } from './rule';

type Conditions = Rule['conditions'];
type Outcome = Rule['outcome'];
const number = (text: string) => (text.trim() === '' ? undefined : Number(text));
const codes = (text: string) => {
  const list = text
    .toUpperCase()
    .split(/[^A-Z]+/)
    .filter(Boolean);
  return list.length ? list : undefined;
};
const yesNo = (text: string) => (text === '' ? undefined : text === 'yes');
const yesOrNo = (value: boolean | undefined) => (value === undefined ? '' : value ? 'yes' : 'no');
const codesIn = (list: string[] | undefined) => (list ?? []).join(', ');
const figureIn = (value: number | undefined) => (value === undefined ? '' : String(value));

/** What the form holds: every condition as it is typed, and what follows. */
export interface Typed extends Record<string, unknown> {
  clearedLeast: string;
  refundsMost: string;
  standingLeast: string;
  tenureLeast: string;
  countryIn: string;
  countryNotIn: string;
  note: string;
  original: string;
  vouched: string;
  welcome: string;
  products: string[];
  uses: string[];
  then: 'after-hold' | 'at-sale' | 'decline' | 'person';
  reason: string;
  on: boolean;
}
export const titles: Record<string, string> = {
  clearedLeast: 'Cleared sales, at least',
  refundsMost: 'Refund rate, at most %',
  standingLeast: 'Standing, at least',
  tenureLeast: 'Days as an affiliate',
  countryIn: 'Country is one of',
  countryNotIn: 'Country is none of',
  note: 'Note',
  original: 'Note compared with others',
  vouched: 'Registry',
  welcome: 'Ways of promoting',
  uses: 'Means to use one of',
  products: 'Only for',
  then: 'Then',
  reason: 'Reason',
  on: 'On',
};

const thenOf = (outcome: Outcome): Typed['then'] =>
  outcome.do === 'approve' ? (outcome.timing ?? 'after-hold') : outcome.do;

/** A rule as the form holds it; the form of a new one where there is none. */
export function typedOf(rule: Rule | null): Typed {
  const outcome: Outcome = rule?.outcome ?? { do: 'approve', timing: 'after-hold' };
  return {
    ...typedConditions(rule?.conditions ?? {}),
    then: thenOf(outcome),
    reason: outcome.reason ?? '',
    on: rule?.on ?? false,
  };
}

const typedConditions = (c: Conditions) => ({
  clearedLeast: figureIn(c.clearedLeast),
  refundsMost: c.refundsMost ?? '',
  standingLeast: figureIn(c.standingLeast),
  tenureLeast: figureIn(c.tenureLeast),
  countryIn: codesIn(c.countryIn),
  countryNotIn: codesIn(c.countryNotIn),
  note: yesOrNo(c.note),
  original: yesOrNo(c.original),
  vouched: yesOrNo(c.vouched),
  welcome: yesOrNo(c.welcome),
  products: c.products ?? [],
  uses: c.uses ?? [],
});

/** What is sent of the form: nothing of what is empty. */
export function bodyOf(t: Typed): { conditions: Conditions; outcome: Outcome } {
  const conditions = Object.fromEntries(
    Object.entries({
      clearedLeast: number(t.clearedLeast),
      refundsMost: t.refundsMost.trim() || undefined,
      standingLeast: number(t.standingLeast),
      tenureLeast: number(t.tenureLeast),
      countryIn: codes(t.countryIn),
      countryNotIn: codes(t.countryNotIn),
      note: yesNo(t.note),
      original: yesNo(t.original),
      vouched: yesNo(t.vouched),
      welcome: yesNo(t.welcome),
      uses: t.uses.length ? t.uses : undefined,
      products: t.products.length ? t.products : undefined,
    }).filter(([, v]) => v !== undefined),
  ) as Conditions;
  return { conditions, outcome: outcomeOf(t) };
}

function outcomeOf(t: Typed): Outcome {
  if (t.then === 'decline') return { do: 'decline', reason: t.reason };
  if (t.then === 'person') return { do: 'person' };
  return { do: 'approve', timing: t.then };
}

/** The faults of a refused rule by field; '' is what belongs to none. */
export function faultsByField(thrown: unknown): Record<string, string> {
  if (!(thrown instanceof Refused)) return { '': 'It was not saved; what you typed is kept.' };
  const { errors, detail } = thrown.problem;
  const said = errors.length ? errors : [{ pointer: '/', detail }];
  return Object.fromEntries(said.map((e) => [fieldOf(e.pointer), e.detail]));
}

const fieldOf = (pointer: string) => pointer.replace(/^\/(conditions\/|outcome\/)?/, '').split('/')[0] ?? '';
