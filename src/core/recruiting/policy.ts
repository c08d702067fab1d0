/** What happens at the end of the notice to those who have not accepted. */
export const atNoticeEnd = ['remind', 'hold-pay', 'pause'] as const;

/** The programme's terms for affiliates: facts before free text. */
export interface PolicyContent {
  general: string;
  /** paid search: what affiliates may do */
  ownBrand: boolean;
  misspellings: boolean;
  directLinking: boolean;
  search: string;
  counts: string;
  declined: string;
  branding: string;
  accepted: string[];
  refused: string[];
  kinds: string;
  ageRestricted: boolean;
  regulated: boolean;
  /** which other channels sales are compared against */
  channels: string;
  /** weeks of notice for changes of these terms, 1–4 */
  noticeWeeks: number;
  atEnd: (typeof atNoticeEnd)[number];
}

export const emptyPolicy: PolicyContent = {
  general: '',
  ownBrand: false,
  misspellings: false,
  directLinking: false,
  search: '',
  counts: '',
  declined: '',
  branding: '',
  accepted: [],
  refused: [],
  kinds: '',
  ageRestricted: false,
  regulated: false,
  channels: '',
  noticeWeeks: 2,
  atEnd: 'remind',
};

export interface PolicyFact {
  text: string;
  yes: boolean;
}
export interface PolicySection {
  key: string;
  title: string;
  facts: PolicyFact[];
  lines: string[];
  text: string;
}

const endWords = {
  remind: 'Who has not accepted by then is reminded',
  'hold-pay': 'Who has not accepted by then is not paid until it does',
  pause: 'Who has not accepted by then is paused until it does',
} as const;

/** A policy as it is read: sections, each with its facts before its text. Sections without anything are left out. */
export function sectionsOf(p: PolicyContent): PolicySection[] {
  const all: PolicySection[] = [
    { key: 'general', title: 'General terms', facts: [], lines: [], text: p.general },
    {
      key: 'search',
      title: 'Paid search',
      facts: [
        { text: 'Bidding on our name', yes: p.ownBrand },
        { text: 'Bidding on misspellings of it', yes: p.misspellings },
        { text: 'Linking advertisements straight to us', yes: p.directLinking },
      ],
      lines: [],
      text: p.search,
    },
    {
      key: 'transactions',
      title: 'What counts',
      facts: [],
      lines: [
        ...(p.counts ? [`Counts: ${p.counts}`] : []),
        ...(p.declined ? [`Is declined: ${p.declined}`] : []),
      ],
      text: '',
    },
    { key: 'branding', title: 'Our name and marks', facts: [], lines: [], text: p.branding },
    {
      key: 'kinds',
      title: 'Who can take part',
      facts: [],
      lines: [
        ...(p.accepted.length ? [`Looked for: ${p.accepted.join(', ')}`] : []),
        ...(p.refused.length ? [`Not taken: ${p.refused.join(', ')}`] : []),
      ],
      text: p.kinds,
    },
    {
      key: 'goods',
      title: 'Goods and trade',
      facts: [
        { text: 'Age-restricted goods', yes: p.ageRestricted },
        { text: 'Regulated trade', yes: p.regulated },
      ],
      lines: p.channels ? [`Sales are compared against: ${p.channels}`] : [],
      text: '',
    },
    {
      key: 'notice',
      title: 'Changes of these terms',
      facts: [],
      lines: [
        `Announced ${p.noticeWeeks} ${p.noticeWeeks === 1 ? 'week' : 'weeks'} before they hold`,
        endWords[p.atEnd],
      ],
      text: '',
    },
  ];
  return all.filter((s) => s.facts.length > 0 || s.lines.length > 0 || s.text.trim() !== '');
}

/** A section that differs between two versions; null where the version has no such section. */
export interface PolicyChange {
  key: string;
  title: string;
  before: PolicySection | null;
  after: PolicySection | null;
}

/** The sections that differ, in the order in which they are read. */
export function policyChanges(before: PolicyContent | null, after: PolicyContent): PolicyChange[] {
  const old = new Map((before ? sectionsOf(before) : []).map((s) => [s.key, s]));
  const now = new Map(sectionsOf(after).map((s) => [s.key, s]));
  const keys = [
    ...new Set([
      ...sectionsOf({ ...emptyPolicy, general: 'x', branding: 'x', counts: 'x', accepted: ['x'] }).map(
        (s) => s.key,
      ),
      ...old.keys(),
      ...now.keys(),
    ]),
  ];
  return keys.flatMap((key) => {
    const [was, is] = [old.get(key) ?? null, now.get(key) ?? null];
    return JSON.stringify(was) === JSON.stringify(is)
      ? []
      : [{ key, title: (is ?? was)!.title, before: was, after: is }];
  });
}

/** What contradicts itself in a policy, by field. */
export function faultsOfPolicy(p: PolicyContent): { field: string; detail: string; example: string }[] {
  const both = p.accepted.filter((k) => p.refused.includes(k));
  return [
    ...(both.length
      ? [
          {
            field: 'refused',
            detail: `${both.join(', ')} cannot be looked for and not taken: the policy would contradict itself`,
            example: 'one of the two',
          },
        ]
      : []),
    ...(sectionsOf(p).every((s) => s.text.trim() === '' && s.lines.length === 0 && s.facts.length > 0)
      ? [
          {
            field: 'general',
            detail: 'General terms are empty: say what taking part means',
            example: 'Links must be marked as advertising.',
          },
        ]
      : []),
  ];
}
