import { noticeSet, weeksOfNotice, type Notice } from '../../../core/terms/notice';
import type { App } from '../../ground/context';
import { theProgramme } from './record';

/** Weeks of notice that a cut which is announced now owes. */
export const noticeNow = (app: App): number => weeksOfNotice(theProgramme(app), app.clock.now());

/** The fields of a notice that is set now. */
export function noticeFields(app: App, weeks: number): Notice {
  const { noticeWeeks, noticeBefore, noticeBeforeUntil } = theProgramme(app);
  return noticeSet({ noticeWeeks, noticeBefore, noticeBeforeUntil }, weeks, app.clock.now());
}
