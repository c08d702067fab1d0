import { acceptLines, section, type atNoticeEnd, type PolicySection } from './policy-reading';

/** A policy in sections with yes and no, as policies were written before practices. */
export interface SectionsPolicy {
  form: 'sections';
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

/** A policy in sections as it is read, each with its facts before its text. */
export function sectionsAsWritten(p: SectionsPolicy): PolicySection[] {
  return [
    section('general', 'General terms', { text: p.general }),
    section('search', 'Paid search', {
      facts: [
        { text: 'Bidding on our name', yes: p.ownBrand },
        { text: 'Bidding on misspellings of it', yes: p.misspellings },
        { text: 'Linking advertisements straight to us', yes: p.directLinking },
      ],
      text: p.search,
    }),
    section('transactions', 'What counts', {
      lines: [
        ...(p.counts ? [`Counts: ${p.counts}`] : []),
        ...(p.declined ? [`Is declined: ${p.declined}`] : []),
      ],
    }),
    section('branding', 'Our name and marks', { text: p.branding }),
    section('kinds', 'Who can take part', {
      lines: [
        ...(p.accepted.length ? [`Looked for: ${p.accepted.join(', ')}`] : []),
        ...(p.refused.length ? [`Not taken: ${p.refused.join(', ')}`] : []),
      ],
      text: p.kinds,
    }),
    section('goods', 'Goods and trade', {
      facts: [
        { text: 'Age-restricted goods', yes: p.ageRestricted },
        { text: 'Regulated trade', yes: p.regulated },
      ],
      lines: p.channels ? [`Sales are compared against: ${p.channels}`] : [],
    }),
    section('notice', 'Changes of these terms', { lines: acceptLines(p) }),
  ];
}
