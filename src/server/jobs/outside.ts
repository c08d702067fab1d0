import { type App } from '../ground/context';
import type { RegistryEvent } from '../ground/ports';
import { takeInvitationEvent } from '../recruit/applications/invited';
import { sendEntries, takeEntryEvent } from '../recruit/offers/catalogue';
import { copyRegistry } from '../recruit/prospects/copy';
import { readEvents } from '../recruit/prospects/events';
import { sendInvites } from '../recruit/prospects/invites';
import { registryOf } from '../registers/programme/record';

/** Hands what happened at the registry to whom it concerns. */
function takeEvent(app: App, event: RegistryEvent): void {
  if (event.kind === 'invitation') takeInvitationEvent(app, event);
  else takeEntryEvent(app, event);
}

const running = new WeakMap<App, Promise<void>>();
/** machine time before which a registry that failed is left alone */
const patience = new WeakMap<App, number>();
const rest = 30_000;

/** What is said to the registry and heard from it: invitations and entries that wait, then what happened there, then our copy of it. One at a time; what fails is tried again. */
export function outside(app: App, force = false): Promise<void> {
  if (!app.sqlite.open || !registryOf(app) || (!force && (patience.get(app) ?? 0) > app.clock.real()))
    return Promise.resolve();
  const under = running.get(app);
  if (under) return force ? under.then(() => outside(app, true)) : under;
  const work = (async () => {
    try {
      await sendInvites(app);
      await sendEntries(app);
      await readEvents(app, (event) => takeEvent(app, event));
      patience.delete(app);
    } catch (err) {
      patience.set(app, app.clock.real() + rest);
      app.log.warn({ err }, 'the registry does not answer; what waits for it waits on');
    }
    await copyRegistry(app);
  })()
    .catch((err: unknown) => {
      // the server was ended meanwhile: what waits is taken up when it runs again
      if (app.sqlite.open) app.log.error({ err }, 'what is said to the registry failed');
    })
    .finally(() => running.delete(app));
  running.set(app, work);
  return work;
}
