import { isId, type Id } from '../text/id';
import {
  answerFor,
  type Practice,
  type PracticeAnswer,
  type PracticeException,
  type Promoter,
} from './practices';

/** What happens at the end of the notice to those who have not accepted. */
export const atNoticeEnd = ['remind', 'hold-pay', 'pause'] as const;

const endWords = {
  remind: 'Who has not accepted by then is reminded',
  'hold-pay': 'Who has not accepted by then is not paid until it does',
  pause: 'Who has not accepted by then is paused until it does',
} as const;

/** How changes are announced, and what follows for who does not accept. */
export const acceptLines = (p: { noticeWeeks: number; atEnd: (typeof atNoticeEnd)[number] }): string[] => [
  `Announced ${p.noticeWeeks} ${p.noticeWeeks === 1 ? 'week' : 'weeks'} before they hold`,
  endWords[p.atEnd],
];

export interface PolicyFact {
  text: string;
  yes: boolean;
}

/** A practice as one reader has it. */
export interface PracticeShown {
  key: string;
  name: string;
  answer: PracticeAnswer;
  says: string;
  /** answered so for the reader’s own group or kind alone */
  own: boolean;
  /** for whom it is answered otherwise, as far as it is this reader’s business */
  otherwise: { who: string; answer: PracticeAnswer; says: string }[];
}

/** A part of a policy as it is read. */
export interface PolicySection {
  key: string;
  title: string;
  practices: PracticeShown[];
  facts: PolicyFact[];
  lines: string[];
  text: string;
}

export const section = (
  key: string,
  title: string,
  parts: Partial<Omit<PolicySection, 'key' | 'title'>>,
): PolicySection => ({ key, title, practices: [], facts: [], lines: [], text: '', ...parts });

export const saysNothing = (s: PolicySection): boolean =>
  s.practices.length === 0 && s.facts.length === 0 && s.lines.length === 0 && s.text.trim() === '';

/**
 * Who reads a policy. Staff reads all of it; everybody reads what is answered otherwise by kind, but no groups, which are the merchant’s own
 * business; one affiliate reads what is answered for itself.
 */
export type PolicyReader =
  | { of: 'staff'; groupName: (id: Id<'set'>) => string }
  | { of: 'everybody' }
  | { of: 'affiliate'; promoter: Promoter };

function otherwiseFor(exceptions: readonly PracticeException[], reader: PolicyReader) {
  if (reader.of === 'affiliate') return [];
  return exceptions.flatMap(({ who, answer, says }) => {
    if (!isId(who, 'set')) return [{ who, answer, says }];
    return reader.of === 'staff' ? [{ who: reader.groupName(who), answer, says }] : [];
  });
}

/** The practices that are answered, as one reader has them. */
export function practicesShown(practices: readonly Practice[], reader: PolicyReader): PracticeShown[] {
  return practices.flatMap((p) => {
    const promoter = reader.of === 'affiliate' ? reader.promoter : { kinds: [], group: null };
    const answered = answerFor(p, promoter);
    if (!answered) return [];
    const { answer, says, who } = answered;
    const otherwise = otherwiseFor(p.exceptions, reader);
    return [{ key: p.key, name: p.name, answer, says, own: who !== null, otherwise }];
  });
}
