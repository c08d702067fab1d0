import { millisecondsInDay } from '../calendar/zone';

/** The notice that a programme promises before a cut, in weeks. */
export interface Notice {
  noticeWeeks: number;
  /** the longer notice that is still kept after it was shortened; null = none is */
  noticeBefore: number | null;
  /** until when the longer one is kept; null = none is */
  noticeBeforeUntil: number | null;
}

/** Weeks of notice that a cut owes at a moment: a notice that was shortened is kept as it was until it has ended itself. */
export function weeksOfNotice({ noticeWeeks, noticeBefore, noticeBeforeUntil }: Notice, at: number): number {
  const isKept = noticeBefore !== null && noticeBeforeUntil !== null && at < noticeBeforeUntil;
  return isKept ? Math.max(noticeBefore, noticeWeeks) : noticeWeeks;
}

/**
 * The notice after it was set to some weeks: a longer one counts at once, a shorter one when the one that is promised
 * now has ended. What is set while a longer one is kept leaves its end as it is, unless it is shorter than what follows.
 */
export function noticeSet(notice: Notice, weeks: number, at: number): Notice {
  const promised = weeksOfNotice(notice, at);
  if (weeks >= promised) return { noticeWeeks: weeks, noticeBefore: null, noticeBeforeUntil: null };
  if (weeks >= notice.noticeWeeks) return { ...notice, noticeWeeks: weeks };
  return {
    noticeWeeks: weeks,
    noticeBefore: promised,
    noticeBeforeUntil: at + promised * 7 * millisecondsInDay,
  };
}
