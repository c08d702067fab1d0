import { landingPages } from '../equip/coverage/coverage';
import { sweepUploads } from '../equip/creatives/sweep';
import { applyPlanned } from '../equip/due/due';
import type { App } from '../ground/context';
import { forgetAnswers } from '../ground/http/keyed';
import { clearDueInTurns } from '../ledger/journal';
import { indexNotes } from '../recruit/applications/notes';
import { lapseTrusts } from '../recruit/applications/trust';
import { matchInTurns } from '../recruit/practices/meant';
import { expireInvites } from '../recruit/prospects/invites';
import { forgetLinks } from '../registers/access/links';
import { checkDuePages } from '../registers/catalogue/pages';
import { deliverWaiting } from '../registers/outbox/delivery';
import { runJob, type Job } from '../registers/programme/job';
import { goOnWithRuns } from '../settle/runs/onward';
import { closeInTurns } from '../setup/policy/close';
import { tellInTurns } from '../setup/policy/tell';
import { tellProductNews } from '../setup/products/news';
import { grantClicks } from '../track/clicks/clicks';
import { sendRenewalNotices } from '../track/orders/subscriptions';
import { forgetReports } from '../track/reports/log';
import { forgetSeenMessages } from '../track/reports/reports';
import { keepClock } from './clock';
import { outside } from './outside';
import { checkTotals } from './totals';

const seconds = 1_000;
const keepAnswers = 3 * 86_400_000;
const keepLinks = 31 * 86_400_000;

type Timed = Job & {
  every: number;
  /** what a restart has interrupted goes on at once */
  atStart?: boolean;
};

const once = (work: (app: App) => unknown) => (app: App) => app.transaction(() => work(app));

/** What the clock triggers, and how often in milliseconds. */
export const jobs: readonly Timed[] = [
  { name: 'mail', every: 1 * seconds, work: deliverWaiting },
  { name: 'registry', every: 3 * seconds, atStart: true, work: (app) => outside(app) },
  { name: 'notes', every: 20 * seconds, work: (app) => indexNotes(app) },
  { name: 'practices', every: 5 * seconds, work: matchInTurns },
  { name: 'clicks', every: 20 * seconds, work: grantClicks },
  { name: 'payout runs', every: 5 * seconds, atStart: true, work: goOnWithRuns },
  { name: 'clearing', every: 20 * seconds, work: clearDueInTurns },
  { name: 'renewal notices', every: 20 * seconds, work: once(sendRenewalNotices) },
  { name: 'invitations', every: 20 * seconds, work: once(expireInvites) },
  { name: 'policy', every: 20 * seconds, atStart: true, work: closeInTurns },
  { name: 'policy news', every: 2 * seconds, atStart: true, work: tellInTurns },
  { name: 'product news', every: 2 * seconds, atStart: true, work: tellProductNews },
  { name: 'planned changes', every: 5 * seconds, atStart: true, work: (app) => applyPlanned(app) },
  { name: 'trusts', every: 20 * seconds, work: once(lapseTrusts) },
  { name: 'clock', every: 20 * seconds, work: keepClock },
  { name: 'pages', every: 60 * seconds, work: (app) => checkDuePages(app, landingPages(app)) },
  { name: 'totals', every: 3600 * seconds, work: checkTotals },
  { name: 'log', every: 3600 * seconds, work: forgetReports },
  { name: 'uploads', every: 3600 * seconds, work: sweepUploads },
  {
    name: 'answers',
    every: 3600 * seconds,
    work: (app) => forgetAnswers(app, app.clock.real() - keepAnswers),
  },
  {
    name: 'seen messages',
    every: 3600 * seconds,
    work: (app) => forgetSeenMessages(app, app.clock.real() - keepAnswers),
  },
  {
    name: 'links',
    every: 3600 * seconds,
    work: (app) => forgetLinks(app, app.clock.real() - keepLinks),
  },
];

/** Starts what the clock triggers; a job that is still under way is not begun a second time. @returns a function that ends it and waits for what is under way */
export function startJobs(app: App, list: readonly Timed[] = jobs): () => Promise<void> {
  const running = new Map<string, Promise<void>>();
  const begin = (job: Timed) => {
    if (running.has(job.name)) return;
    running.set(
      job.name,
      runJob(app, job).finally(() => running.delete(job.name)),
    );
  };
  const timers = list.map((job) => setInterval(() => begin(job), job.every));
  for (const job of list) if (job.atStart) begin(job);
  return async () => {
    timers.forEach(clearInterval);
    await running.get('mail');
    app.faults.guard('clock', () => keepClock(app));
  };
}
