import { prefixes, type Id } from '../../../../core/text/id';

/** A key for a practice that the merchant adds: the same for as long as there is one. */
export const newPracticeKey = (): Id<'practice'> =>
  `${prefixes.practice}_${crypto.randomUUID().replaceAll('-', '').slice(0, 20)}`;
