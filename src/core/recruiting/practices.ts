import type { Id } from '../text/id';
import type { PartnerKind } from './kinds';

/** What the policy answers about a practice. */
export const practiceAnswers = ['welcome', 'ask-first', 'not-here'] as const;
export type PracticeAnswer = (typeof practiceAnswers)[number];

export const answerWords: Record<PracticeAnswer, string> = {
  welcome: 'welcome',
  'ask-first': 'ask first',
  'not-here': 'not here',
};

/** Practices that promoters ask about, in the usual order: what each is called, and phrases that name it in what people write. */
export const usualPractices = {
  'search-name': {
    name: 'Advertising in search on our name',
    words: ['bid on your name', 'bidding on your name', 'brand bidding', 'search ads on your name'],
  },
  'search-misspellings': {
    name: 'Advertising on misspellings of our name',
    words: ['misspelling', 'misspelt', 'typing errors of your name'],
  },
  'direct-linking': {
    name: 'Linking an advertisement straight to us',
    words: ['direct linking', 'straight to your shop', 'straight to your page', 'directly to your shop'],
  },
  'foreign-coupons': {
    name: 'Coupon codes that were not given to you',
    words: ['coupon', 'coupon code', 'voucher', 'discount code', 'promo code'],
  },
  'cash-return': {
    name: 'Cash return to buyers',
    words: ['cash return', 'cashback', 'cash back', 'money back to members'],
  },
  'own-readers': {
    name: 'E-mail to your own readers',
    words: ['newsletter', 'mailing list', 'letter', 'mail my readers', 'mail our readers', 'subscribers'],
  },
  'bought-lists': {
    name: 'E-mail to bought lists',
    words: ['bought list', 'rented list', 'purchased list', 'buy addresses', 'bought addresses'],
  },
  'social-ads': {
    name: 'Paid advertising on social networks',
    words: ['paid social', 'social ads', 'social advertising', 'boosted posts', 'sponsored posts'],
  },
  comparison: {
    name: 'Comparing us with rivals',
    words: ['comparison', 'compare', 'comparing', 'versus'],
  },
  children: {
    name: 'Children as an audience',
    words: ['children', 'kids', 'pupils', 'school classes', 'teenagers'],
  },
  'name-in-domain': {
    name: 'Our name in a domain',
    words: ['your name in a domain', 'your name in the domain', 'domain with your name'],
  },
  resale: {
    name: 'Offering our goods on resale sites',
    words: ['resale', 'resell', 'reselling', 'marketplace', 'auction'],
  },
  'own-purchases': {
    name: 'Buying for yourself through your own link',
    words: ['own purchases', 'own orders', 'buy for myself', 'buy for ourselves'],
  },
} as const;
export type UsualPractice = keyof typeof usualPractices;
export const usualPracticeList = Object.keys(usualPractices) as UsualPractice[];

/** One of the usual practices, or one that the merchant added. */
export type PracticeKey = UsualPractice | Id<'practice'>;

export const isUsual = (key: string): key is UsualPractice => Object.hasOwn(usualPractices, key);

/** Another answer for a group, or for a kind of partner. */
export interface PracticeException {
  who: Id<'set'> | PartnerKind;
  answer: PracticeAnswer;
  says: string;
}

/** A practice as the policy answers it; null = not answered yet, which is not part of what is read. */
export interface Practice {
  key: PracticeKey;
  name: string;
  /** phrases that name it in what people write, beside the usual ones */
  words: string[];
  answer: PracticeAnswer | null;
  /** a sentence beside the answer, may be empty */
  says: string;
  exceptions: PracticeException[];
}

/** A practice that nothing was said of yet. */
export const unanswered = (key: UsualPractice): Practice => ({
  key,
  name: usualPractices[key].name,
  words: [],
  answer: null,
  says: '',
  exceptions: [],
});

/** Who promotes: what kind of partner, and in which group. */
export interface Promoter {
  kinds: readonly string[];
  group: Id<'set'> | null;
}
export const someNewcomer: Promoter = { kinds: [], group: null };

const gravity: Record<PracticeAnswer, number> = { welcome: 0, 'ask-first': 1, 'not-here': 2 };

export interface Answered {
  answer: PracticeAnswer;
  says: string;
  /** for whom it is answered so; null for everybody */
  who: PracticeException['who'] | null;
}

/**
 * What a practice is answered for one promoter: by its group where that has an answer of its own, else by its kind, else as for everybody.
 * Who is of several kinds gets the strictest of theirs. @returns null where it is not answered
 */
export function answerFor(practice: Practice, promoter: Promoter): Answered | null {
  if (practice.answer === null) return null;
  const byGroup = practice.exceptions.find((e) => e.who === promoter.group);
  if (byGroup) return byGroup;
  const [byKind] = practice.exceptions
    .filter((e) => promoter.kinds.includes(e.who))
    .sort((a, b) => gravity[b.answer] - gravity[a.answer]);
  return byKind ?? { answer: practice.answer, says: practice.says, who: null };
}

const negations = new Set(['no', 'not', 'never', 'without', 'neither', 'nor', 'none', 'nothing']);
/** How far before a phrase a “no” still speaks of it, in words. */
const reach = 4;

/** Words as they are compared: small letters, no marks, one form for one and many. */
function tokensOf(text: string): string[] {
  return text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[\p{M}'’]/gu, '')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .map((word) => (word.length > 3 && word.endsWith('s') ? word.slice(0, -1) : word));
}

const isNegation = (word: string) => negations.has(word) || /^(do|does|did|wo|is|are|ca)nt$/.test(word);

/** Whether a sentence speaks of a phrase and does not deny it: “never any coupons” does not, “not only coupons” does. */
function speaksOf(sentence: readonly string[], phrase: readonly string[]): boolean {
  for (let at = 0; at + phrase.length <= sentence.length; at += 1) {
    if (!phrase.every((word, i) => sentence[at + i] === word)) continue;
    const before = sentence.slice(Math.max(0, at - reach), at);
    const denied = before.some((word, i) => isNegation(word) && before[i + 1] !== 'only');
    if (!denied) return true;
  }
  return false;
}

type Named = Pick<Practice, 'key' | 'name' | 'words'>;

/** Phrases by which a practice is known: the usual ones, the merchant’s, and the name of one that the merchant added. */
const phrasesOf = ({ key, name, words }: Named): readonly string[] =>
  isUsual(key) ? [...usualPractices[key].words, ...words] : [name, ...words];

/** Which practices a text speaks of, in the order of the table. */
export function practicesIn(text: string, table: readonly Named[]): PracticeKey[] {
  const sentences = text.split(/[.!?;\n\r]+/).map(tokensOf);
  const has = (phrase: readonly string[]) =>
    phrase.length > 0 && sentences.some((sentence) => speaksOf(sentence, phrase));
  return table.filter((p) => phrasesOf(p).some((words) => has(tokensOf(words)))).map((p) => p.key);
}

/** A practice that an applicant means to use: because it was ticked, because the note or the channels speak of it, or both. */
export interface MeantPractice {
  key: PracticeKey;
  ticked: boolean;
  said: boolean;
}

/**
 * What an applicant means to use, in the order of the table; what was ticked and is not in it any more comes last.
 * @param ticked null where nobody asked @param text how it says to promote
 */
export function practicesMeant(
  table: readonly Named[],
  ticked: readonly PracticeKey[] | null,
  text: string,
): MeantPractice[] {
  const said = new Set(practicesIn(text, table));
  const known = new Set(table.map((p) => p.key));
  const gone = (ticked ?? []).filter((key) => !known.has(key));
  return [...table.map((p) => p.key), ...gone]
    .map((key) => ({ key, ticked: ticked?.includes(key) ?? false, said: said.has(key) }))
    .filter((m) => m.ticked || m.said);
}

/** What the policy answers to what an applicant means to use; only what it answers. */
export interface JudgedPractice extends MeantPractice, Answered {
  name: string;
}

export function judgePractices(
  table: readonly Practice[],
  meant: readonly MeantPractice[],
  promoter: Promoter,
): JudgedPractice[] {
  return meant.flatMap((m) => {
    const practice = table.find((p) => p.key === m.key);
    const answered = practice && answerFor(practice, promoter);
    return answered ? [{ ...m, ...answered, name: practice.name }] : [];
  });
}

/** The strictest answer among several; null where there is none. */
export function strictest(answers: readonly PracticeAnswer[]): PracticeAnswer | null {
  return [...answers].sort((a, b) => gravity[b] - gravity[a])[0] ?? null;
}
