import { type App } from '../../ground/context';
import { programmeOrNull } from './record';

/** Work that nobody waits for: a name that the log and the desk say, and the work, which a fault of another never stops. */
export interface Job {
  name: string;
  work: (app: App) => unknown;
}

/** Runs one job once. Whatever it throws, now or later, is counted, logged and forgotten: it runs again when its time comes. */
export async function runJob(app: App, { name, work }: Job): Promise<void> {
  if (!app.sqlite.open || !programmeOrNull(app)) return;
  try {
    // what a job does at once is one act; what it does after waiting has moments of its own
    await app.clock.during(() => work(app));
  } catch (thrown) {
    if (app.sqlite.open) app.faults.note(`job ${name}`, thrown);
  }
}
