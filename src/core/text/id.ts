/** The prefixes of ids, by what they name. */
export const prefixes = {
  staff: 'stf',
  product: 'prd',
  rate: 'rat',
  affiliate: 'aff',
  application: 'apl',
  approval: 'apr',
  visit: 'vis',
  visitor: 'vtr',
  report: 'rep',
  order: 'ord',
  refund: 'rfd',
  commission: 'com',
  entry: 'ent',
  run: 'run',
  payment: 'pay',
  message: 'msg',
  audit: 'aud',
  status: 'sta',
  set: 'set',
  membership: 'mem',
  pause: 'pau',
  lock: 'lck',
  tagOrder: 'tgo',
  draft: 'drf',
  change: 'chg',
  rehearsal: 'reh',
  funnel: 'fun',
  step: 'stp',
  referral: 'rfl',
  coOwner: 'cow',
  notice: 'not',
  quote: 'quo',
  file: 'fil',
  question: 'qst',
  rule: 'rul',
  invite: 'inv',
  policy: 'pol',
  practice: 'prc',
  permission: 'prm',
  offer: 'off',
  entryWord: 'ewd',
  news: 'nws',
  productNews: 'pnw',
  segment: 'seg',
  bulk: 'blk',
  template: 'tpl',
  trust: 'tru',
  pictured: 'pic',
  creative: 'cre',
  coupon: 'cpn',
  planned: 'pln',
  request: 'req',
} as const;

export type IdKind = keyof typeof prefixes;

/** An id of one of the kinds given: a product’s is not taken where an affiliate’s is asked for. */
export type Id<K extends IdKind> = `${(typeof prefixes)[K]}_${string}`;

/** Whether a text is an id of one of these kinds, as an address or a subject of the audit may hold one. */
export const isId = <const K extends IdKind>(text: string, ...kinds: [K, ...K[]]): text is Id<K> =>
  kinds.some((kind) => text.startsWith(`${prefixes[kind]}_`));
