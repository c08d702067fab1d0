import { lt } from 'drizzle-orm';
import type { App } from '../context';
import { programmeOrNull } from '../context';
import { answers, seenMessages } from '../db/schema';
import { clearDue } from '../ledger/journal';
import { deliverWaiting } from '../messages/service';
import { closeNotice } from '../policy/service';
import { checkDuePages } from '../products/pages';
import { expireInvites } from '../prospects/invites';
import { keepClock } from '../staff/clock';
import { indexNotes } from '../recruiting/notes';
import { lapseTrusts } from '../recruiting/trust';
import { outside } from './outside';
import { grantClicks } from '../tracking/clicks';
import { sendRenewalNotices } from '../tracking/subscriptions';

const mailEvery = 1_000;
const dueEvery = 20_000;
const tidyEvery = 3_600_000;
const pagesEvery = 60_000;
const registryEvery = 3_000;
const keepAnswers = 3 * 86_400_000;

/** Starts what the clock triggers. @returns a function that ends it and waits for what is under way */
export function startJobs(app: App): () => Promise<void> {
  let delivering: Promise<unknown> = Promise.resolve();
  let busy = false;
  const guarded = (name: string, work: () => void) => () => {
    if (!programmeOrNull(app)) return;
    try {
      work();
    } catch (err) {
      app.log.error({ err, job: name }, 'a job failed; it runs again later');
    }
  };
  const timers = [
    setInterval(guarded('mail', () => {
      if (busy) return;
      busy = true;
      delivering = deliverWaiting(app).catch((err: unknown) => app.log.error({ err }, 'delivering messages failed')).finally(() => { busy = false; });
    }), mailEvery),
    setInterval(guarded('due', () => {
      indexNotes(app);
      const clicked = grantClicks(app);
      if (clicked) app.log.info({ clicked }, 'rewards by the click granted');
      const cleared = clearDue(app);
      app.transaction(() => sendRenewalNotices(app));
      app.transaction(() => { expireInvites(app); closeNotice(app); lapseTrusts(app); });
      if (cleared) app.log.info({ cleared }, 'commissions cleared');
      keepClock(app);
    }), dueEvery),
    setInterval(guarded('pages', () => { void checkDuePages(app).catch((err: unknown) => app.log.warn({ err }, 'pages could not be looked at')); }), pagesEvery),
    setInterval(guarded('registry', () => { void outside(app); }), registryEvery),
    setInterval(guarded('tidy', () => {
      app.db.delete(answers).where(lt(answers.at, app.clock.real() - keepAnswers)).run();
      app.db.delete(seenMessages).where(lt(seenMessages.at, app.clock.real() - keepAnswers)).run();
    }), tidyEvery),
  ];
  if (programmeOrNull(app)) void outside(app);
  return async () => {
    timers.forEach(clearInterval);
    await delivering;
    guarded('clock', () => keepClock(app))();
  };
}
