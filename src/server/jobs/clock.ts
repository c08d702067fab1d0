import { addZonedDays } from '../../core/calendar/zone';
import { applyPlanned } from '../equip/due/due';
import { type Actor, type App } from '../ground/context';
import { Problem } from '../ground/http/problem';
import { clearDue } from '../ledger/journal';
import { lapseTrusts } from '../recruit/applications/trust';
import { expireInvites } from '../recruit/prospects/invites';
import { record } from '../registers/access/audit';
import { programmeOrNull, theProgramme } from '../registers/programme/record';
import { changeProgramme } from '../registers/programme/write';
import { closeNotice } from '../setup/policy/close';
import { grantClicks } from '../track/clicks/clicks';
import { sendRenewalNotices } from '../track/orders/subscriptions';

/**
 * Sets a demo's clock to where it stood when the server last ran, and never before anything that was recorded.
 */
export function resumeClock(app: App): void {
  const found = programmeOrNull(app);
  if (!found?.demo) return;
  const newest = app.sqlite
    .prepare(
      'SELECT max(coalesce((SELECT max(at) FROM entries), 0), coalesce((SELECT received_at FROM orders ORDER BY id DESC LIMIT 1), 0), coalesce((SELECT at FROM reports ORDER BY id DESC LIMIT 1), 0), coalesce((SELECT at FROM visits ORDER BY id DESC LIMIT 1), 0))',
    )
    .pluck()
    .get() as number;
  const at = Math.max(found.clockAt ?? 0, newest);
  if (at > 0) app.clock.advance(at - app.clock.now());
}

/** Keeps where a demo's clock stands. */
export function keepClock(app: App): void {
  if (!programmeOrNull(app)?.demo) return;
  changeProgramme(app, { clockAt: app.clock.now() });
}

export function readClock(app: App) {
  return { now: app.clock.now(), demo: programmeOrNull(app)?.demo ?? false };
}

const steps = { day: 1, week: 7, month: 30 } as const;

/** Moves the demo clock on, and does what has become due. @throws Problem `conflict` outside the demo */
export function moveClock(app: App, actor: Actor, by: keyof typeof steps) {
  const { demo, zone } = theProgramme(app);
  if (!demo)
    throw new Problem('conflict', 'This programme keeps real time; only a demo’s clock can be moved');
  const before = app.clock.now();
  app.clock.advance(addZonedDays(before, steps[by], zone) - before);
  keepClock(app);
  record(app, actor, 'clock-moved', {
    subject: 'programme',
    before: { at: before },
    after: { at: app.clock.now(), by },
  });
  grantClicks(app);
  const cleared = clearDue(app);
  sendRenewalNotices(app);
  expireInvites(app);
  closeNotice(app);
  lapseTrusts(app);
  while (applyPlanned(app) > 0);
  return { ...readClock(app), cleared };
}
