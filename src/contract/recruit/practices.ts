import { Type } from '@sinclair/typebox';
import { partnerKindList } from '../../core/recruiting/kinds';
import { practiceAnswers, usualPracticeList, type PracticeKey } from '../../core/recruiting/practices';
import { prefixes } from '../../core/text/id';
import { endpoint, managing } from '../endpoint';
import { byId, closed, idOf, Moment, nullable, oneOf, paragraphs } from '../shared';

/** One of the usual practices by its name, or one of the merchant’s own by its id. */
export const PracticeName = Type.Unsafe<PracticeKey>({
  type: 'string',
  maxLength: 40,
  pattern: `^(${usualPracticeList.join('|')}|${prefixes.practice}_[0-9A-Za-z]+)$`,
  title: 'Practice',
  examples: ['cash-return'],
});

/** For whom a practice is answered otherwise. */
export const PracticeWho = Type.Union([idOf('set'), oneOf('Kind', partnerKindList)], {
  title: 'For whom',
  description: 'a group, or a kind of partner',
});

export const PermissionOut = closed({
  id: idOf('permission'),
  practice: PracticeName,
  name: Type.String({ description: 'what the practice was called when it was answered' }),
  allowed: Type.Boolean(),
  words: Type.String(),
  at: Moment,
  by: Type.String(),
});

/** A practice that somebody means to use, what the policy answers to it, and what was answered to this one. */
export const PracticeOfOne = closed({
  key: PracticeName,
  name: Type.String(),
  /** what the policy in force says for this one; null where it does not answer it any more */
  answer: nullable(oneOf('Answer', practiceAnswers)),
  says: Type.String(),
  ticked: Type.Boolean(),
  said: Type.Boolean(),
  permission: nullable(PermissionOut),
});

export const answerPractice = endpoint('POST', '/api/v1/affiliates/:id/permissions', {
  summary: 'Answer somebody about a practice: let in for it, or not; an earlier answer ends',
  access: managing,
  once: true,
  params: byId('affiliate'),
  body: closed({
    practice: PracticeName,
    allowed: Type.Boolean({ title: 'Allowed' }),
    words: paragraphs('Words', 500, { example: 'For the members’ page, not in the open shop.' }),
    application: Type.Optional(idOf('application')),
    replaces: nullable(idOf('permission')),
  }),
  reply: PermissionOut,
});
export const readOwnPermissions = endpoint('GET', '/api/v1/portal/permissions', {
  summary: 'What an affiliate was answered about practices',
  access: 'affiliate',
  reply: closed({
    rows: Type.Array(
      closed({
        id: idOf('permission'),
        name: Type.String(),
        allowed: Type.Boolean(),
        words: Type.String(),
        at: Moment,
      }),
    ),
  }),
});
export const endPermission = endpoint('POST', '/api/v1/permissions/:id/end', {
  summary: 'Take an answer back: the question is open again',
  access: managing,
  once: true,
  params: byId('permission'),
  reply: closed({ restored: nullable(PermissionOut) }),
});
