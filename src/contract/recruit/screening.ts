import { Type } from '@sinclair/typebox';
import { timings } from '../../core/ledger/timing';
import { ruleOutcomes } from '../../core/recruiting/lists';
import { applicationStates } from '../../core/recruiting/states';
import { jobStates } from '../../core/terms/lists';
import { endpoint, managing, readers } from '../endpoint';
import { byId, closed, idOf, Moment, nullable, oneOf, paragraphs, Version, words } from '../shared';
import { PracticeName } from './practices';

const count = (title: string, most: number, example: number) =>
  Type.Optional(Type.Integer({ title, minimum: 0, maximum: most, examples: [example] }));
const countries = (title: string) =>
  Type.Optional(
    Type.Array(words('Country', 2, { least: 2, example: 'PT', pattern: '^[A-Z]{2}$' }), {
      minItems: 1,
      maxItems: 60,
      title,
    }),
  );
export const RuleConditions = closed({
  clearedLeast: count('Cleared sales, at least', 1_000_000, 50),
  refundsMost: Type.Optional(words('Refund rate, at most', 10, { least: 1, example: '8' })),
  standingLeast: count('Standing, at least', 100, 60),
  tenureLeast: count('Days as an affiliate, at least', 10_000, 365),
  countryIn: countries('Country'),
  countryNotIn: countries('Country not'),
  note: Type.Optional(Type.Boolean({ title: 'Note' })),
  original: Type.Optional(Type.Boolean({ title: 'Original note' })),
  vouched: Type.Optional(Type.Boolean({ title: 'Vouched for' })),
  products: Type.Optional(Type.Array(idOf('product'), { minItems: 1, maxItems: 100, title: 'Products' })),
  welcome: Type.Optional(Type.Boolean({ title: 'Everything is welcome' })),
  uses: Type.Optional(Type.Array(PracticeName, { minItems: 1, maxItems: 60, title: 'Practices' })),
});
export const RuleOutcome = closed({
  do: oneOf('Outcome', ruleOutcomes),
  timing: Type.Optional(oneOf('Timing', timings)),
  reason: Type.Optional(
    paragraphs('Reason', 500, { example: 'We are looking for people with a site of their own' }),
  ),
});
const body = { conditions: RuleConditions, outcome: RuleOutcome };
export const RuleOut = closed({
  id: idOf('rule'),
  sentence: Type.String(),
  ...body,
  on: Type.Boolean(),
  decided: Type.Integer({ description: 'applications it has decided' }),
  version: Version,
});
const Rules = closed({
  rules: Type.Array(RuleOut),
  products: Type.Array(closed({ id: idOf('product'), name: Type.String(), screened: Type.Boolean() })),
  practices: Type.Array(closed({ key: PracticeName, name: Type.String() })),
});

export const listRules = endpoint('GET', '/api/v1/screening', {
  summary: 'Screening rules in order',
  access: readers,
  reply: Rules,
});
export const createRule = endpoint('POST', '/api/v1/screening', {
  summary: 'Add a rule at the end, switched off',
  access: managing,
  once: true,
  body: closed(body),
  reply: Rules,
});
export const editRule = endpoint('PUT', '/api/v1/screening/:id', {
  summary: 'Change a rule, or switch it on or off',
  access: managing,
  params: byId('rule'),
  once: true,
  body: closed({ ...body, on: Type.Boolean({ title: 'On' }), version: Version }),
  reply: Rules,
});
export const removeRule = endpoint('POST', '/api/v1/screening/:id/remove', {
  summary: 'Remove a rule; what it decided stays',
  access: managing,
  params: byId('rule'),
  once: true,
  reply: Rules,
});
export const orderRules = endpoint('PUT', '/api/v1/screening', {
  summary: 'The order in which rules are tried',
  access: managing,
  once: true,
  body: closed({ ids: Type.Array(idOf('rule'), { maxItems: 200, title: 'Rules' }) }),
  reply: Rules,
});

const Turned = closed({
  total: Type.Integer(),
  approved: Type.Integer(),
  declined: Type.Integer(),
  active: Type.Integer(),
  paused: Type.Integer(),
  ended: Type.Integer(),
  blocked: Type.Integer(),
  sales: Type.Integer(),
  refunds: Type.Integer(),
});
export const RehearsalOfRules = closed({
  applications: Type.Integer(),
  changesMost: Type.Integer({
    description: 'at most so many of those whose outcome would differ are listed',
  }),
  rows: Type.Array(closed({ rule: nullable(idOf('rule')), sentence: Type.String(), ...Turned.properties })),
  changes: Type.Array(
    closed({
      application: idOf('application'),
      affiliate: idOf('affiliate'),
      name: Type.String(),
      at: Moment,
      decided: oneOf('State', applicationStates),
      would: Type.String(),
      rule: nullable(idOf('rule')),
      now: Type.String(),
      sales: Type.Integer(),
      refunds: Type.Integer(),
    }),
  ),
});
export type RehearsalOfRules = (typeof RehearsalOfRules)['static'];
export const RuleRehearsalOut = closed({
  id: idOf('rehearsal'),
  at: Moment,
  state: oneOf('State', jobStates),
  done: Type.Integer(),
  total: Type.Integer(),
  tookMs: nullable(Type.Integer()),
  outdated: Type.Boolean({ description: 'the rules are others by now' }),
  result: nullable(RehearsalOfRules),
});
export type RuleRehearsalOut = (typeof RuleRehearsalOut)['static'];
export const readRuleRehearsal = endpoint('GET', '/api/v1/screening/rehearsal', {
  summary: 'The last rehearsal of the rules: how far it is, or what it found',
  access: readers,
  reply: nullable(RuleRehearsalOut),
});
export const startRuleRehearsal = endpoint('POST', '/api/v1/screening/rehearsal', {
  summary: 'Judge past applications by the rules, as if all of them were on; changes nothing',
  access: managing,
  once: true,
  reply: RuleRehearsalOut,
});
export const cancelRuleRehearsal = endpoint('POST', '/api/v1/screening/rehearsal/cancel', {
  summary: 'Stop a rehearsal of the rules',
  access: managing,
  once: true,
  reply: nullable(RuleRehearsalOut),
});
