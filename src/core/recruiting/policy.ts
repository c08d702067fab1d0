import {
  acceptLines,
  practicesShown,
  saysNothing,
  section,
  type atNoticeEnd,
  type PolicyReader,
  type PolicySection,
} from './policy-reading';
import { unanswered, usualPracticeList, type Practice, type PracticeAnswer } from './practices';
import { sectionsAsWritten, type SectionsPolicy } from './sections-policy';

/** The programme’s terms for affiliates: practices before words, words before free text. */
export interface PracticesPolicy {
  form: 'practices';
  practices: Practice[];
  counts: string;
  declined: string;
  /** which other channels sales are compared against */
  channels: string;
  /** how to speak of us */
  branding: string;
  /** kinds of partners looked for, and not taken */
  accepted: string[];
  refused: string[];
  ageRestricted: boolean;
  regulated: boolean;
  /** what we owe affiliates: notice, payment, clearing */
  owed: string;
  general: string;
  /** weeks of notice for changes of these terms, 1–4 */
  noticeWeeks: number;
  atEnd: (typeof atNoticeEnd)[number];
}

/** A version of the policy in the form in which it was written. */
export type PolicyContent = PracticesPolicy | SectionsPolicy;

export const emptyPolicy: PracticesPolicy = {
  form: 'practices',
  practices: usualPracticeList.map(unanswered),
  counts: '',
  declined: '',
  channels: '',
  branding: '',
  accepted: [],
  refused: [],
  ageRestricted: false,
  regulated: false,
  owed: '',
  general: '',
  noticeWeeks: 2,
  atEnd: 'remind',
};

const yesNo = (yes: boolean): PracticeAnswer => (yes ? 'welcome' : 'not-here');

/** A policy of the older form as one of practices: what it answered with yes or no is answered, its words are kept, the rest is still to be answered. */
export function carriedOver(p: PolicyContent): PracticesPolicy {
  if (p.form === 'practices') return p;
  const answers: Partial<Record<string, PracticeAnswer>> = {
    'search-name': yesNo(p.ownBrand),
    'search-misspellings': yesNo(p.misspellings),
    'direct-linking': yesNo(p.directLinking),
  };
  const { counts, declined, channels, branding, accepted, refused, ageRestricted, regulated } = p;
  return {
    ...emptyPolicy,
    ...{ counts, declined, channels, branding, accepted, refused, ageRestricted, regulated },
    practices: emptyPolicy.practices.map((x) => ({ ...x, answer: answers[x.key] ?? null })),
    general: [p.general, p.search, p.kinds].filter((text) => text.trim() !== '').join('\n\n'),
    noticeWeeks: p.noticeWeeks,
    atEnd: p.atEnd,
  };
}

/** Every part of a policy of practices, also those that say nothing, in the order in which they are read. */
function partsOf(p: PracticesPolicy, reader: PolicyReader): PolicySection[] {
  const said = (label: string, text: string) => (text.trim() ? [`${label}: ${text}`] : []);
  return [
    section('practices', 'Ways of promoting', { practices: practicesShown(p.practices, reader) }),
    section('transactions', 'What counts as a sale', {
      lines: [
        ...said('Counts', p.counts),
        ...said('Does not count', p.declined),
        ...said('Sales are compared against', p.channels),
      ],
    }),
    section('branding', 'How to speak of us', { text: p.branding }),
    section('kinds', 'Who can take part', {
      lines: [...said('Looked for', p.accepted.join(', ')), ...said('Not taken', p.refused.join(', '))],
    }),
    section('goods', 'Goods and trade', {
      facts: [
        { text: 'Age-restricted goods', yes: p.ageRestricted },
        { text: 'Regulated trade', yes: p.regulated },
      ],
    }),
    section('owed', 'What we owe you', { text: p.owed }),
    section('notice', 'Changes of these terms', { lines: acceptLines(p) }),
    section('general', 'Further terms', { text: p.general }),
  ];
}

/** A policy as one reader has it: parts without anything are left out. A version of the older form reads as it was written. */
export function sectionsOf(p: PolicyContent, reader: PolicyReader): PolicySection[] {
  const parts = p.form === 'practices' ? partsOf(p, reader) : sectionsAsWritten(p);
  return parts.filter((part) => !saysNothing(part));
}

export interface PolicyFault {
  field: string;
  detail: string;
  example: string;
}

function faultsOfPractices(practices: readonly Practice[]): PolicyFault[] {
  const seen = new Map<string, string>();
  return practices.flatMap((p, i) => {
    const faults: PolicyFault[] = [];
    const name = p.name.trim().toLowerCase();
    if (seen.has(name) || practices.findIndex((x) => x.key === p.key) !== i)
      faults.push({
        field: `practices/${i}/name`,
        detail: `“${p.name}” stands twice in the table; a practice is answered once`,
        example: 'another name, or one of the two removed',
      });
    seen.set(name, p.key);
    if (new Set(p.exceptions.map((e) => e.who)).size < p.exceptions.length)
      faults.push({
        field: `practices/${i}/exceptions`,
        detail: `“${p.name}” is answered twice for the same group or kind`,
        example: 'one answer for each',
      });
    if (p.answer === null && p.exceptions.length > 0)
      faults.push({
        field: `practices/${i}/answer`,
        detail: `“${p.name}” is answered for some, but not for everybody`,
        example: 'not here',
      });
    return faults;
  });
}

/** What contradicts itself in a policy, by field. */
export function faultsOfPolicy(p: PracticesPolicy): PolicyFault[] {
  const both = p.accepted.filter((k) => p.refused.includes(k));
  return [
    ...faultsOfPractices(p.practices),
    ...(both.length
      ? [
          {
            field: 'refused',
            detail: `${both.join(', ')} cannot be looked for and not taken: the policy would contradict itself`,
            example: 'one of the two',
          },
        ]
      : []),
  ];
}

/** Something that a policy leaves open: a practice without an answer, or a part without words. */
export interface PolicyGap {
  /** a practice’s key, or the name of the part */
  key: string;
  name: string;
}

const words = [
  ['counts', 'What counts as a sale'],
  ['declined', 'What does not count'],
  ['branding', 'How to speak of us'],
  ['owed', 'What we owe you'],
  ['general', 'Further terms'],
] as const;

/** Whether nothing was answered and nothing written. */
export const isEmptyPolicy = (p: PracticesPolicy): boolean =>
  p.practices.every((x) => x.answer === null) && words.every(([key]) => p[key].trim() === '');

/** What is still empty, and asked about before the policy is published. */
export function gapsOf(p: PracticesPolicy): PolicyGap[] {
  return [
    ...p.practices.filter((x) => x.answer === null).map(({ key, name }) => ({ key, name })),
    ...words.filter(([key]) => p[key].trim() === '').map(([key, name]) => ({ key, name })),
  ];
}
