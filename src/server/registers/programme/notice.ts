import { millisecondsInDay } from '../../../core/calendar/zone';
import type { App } from '../../ground/context';
import { theProgramme, type Programme } from './record';

type NoticeFields = Pick<Programme, 'noticeWeeks' | 'noticeBefore' | 'noticeBeforeUntil'>;

/** Weeks of notice that a cut owes at a moment: a notice that was shortened is kept as it was until it has ended itself. */
export function weeksOfNotice(
  { noticeWeeks, noticeBefore, noticeBeforeUntil }: NoticeFields,
  at: number,
): number {
  const isKept = noticeBefore !== null && noticeBeforeUntil !== null && at < noticeBeforeUntil;
  return isKept ? Math.max(noticeBefore, noticeWeeks) : noticeWeeks;
}

/** Weeks of notice that a cut which is announced now owes. */
export const noticeNow = (app: App): number => weeksOfNotice(theProgramme(app), app.clock.now());

/** The fields of a notice that is set now: a shorter one takes effect when the one that is promised now has ended. */
export function noticeFields(app: App, weeks: number): NoticeFields {
  const now = app.clock.now();
  const { noticeBeforeUntil, ...before } = theProgramme(app);
  const promised = noticeNow(app);
  if (weeks >= promised) return { noticeWeeks: weeks, noticeBefore: null, noticeBeforeUntil: null };
  if (weeks === before.noticeWeeks)
    return { noticeWeeks: weeks, noticeBefore: before.noticeBefore, noticeBeforeUntil };
  return {
    noticeWeeks: weeks,
    noticeBefore: promised,
    noticeBeforeUntil: now + promised * 7 * millisecondsInDay,
  };
}
