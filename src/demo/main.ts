import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { assemble } from '../server/assemble';
import { deliverWaiting } from '../server/messages/service';
import { readSettings } from '../server/settings';
import { openStandins, setSwitch } from '../standins/store';
import { playDemo } from './play';
import { demoKey, demoProducts } from './scenario';

/** Fills the shop stand-in: its shelf and its key. */
function stockShop(file: string): void {
  const db = openStandins(file);
  for (const p of demoProducts) db.prepare('INSERT OR REPLACE INTO shelf VALUES (?, ?, ?, ?)').run(p.code, p.name, p.price, 'EUR');
  setSwitch(db, 'key', demoKey.id);
  setSwitch(db, 'secret', demoKey.secret);
  db.close();
}

async function main(): Promise<void> {
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  const settings = readSettings(process.env.GRAVENEL_ROOT ?? process.cwd(), process.env);
  mkdirSync(settings.data, { recursive: true });
  let moment = 0;
  const running = assemble(settings, { now: () => moment, real: Date.now, advance: () => undefined });
  // history is made in one go and once: it can be made again, so it need not be on disk at every step
  running.app.sqlite.pragma('synchronous = OFF');
  await playDemo(running.app, { set: (at) => { moment = at; } });
  while (await deliverWaiting(running.app, 500));
  running.app.sqlite.pragma('wal_checkpoint(TRUNCATE)');
  running.close();
  if (settings.standinPort !== null) stockShop(join(settings.data, 'standins.sqlite'));
  writeFileSync(join(settings.data, 'demo-sign-ins.txt'), 'This data folder holds the demo.\n');
}

main().catch((fault: unknown) => {
  process.stderr.write(`The demo data could not be made: ${fault instanceof Error ? fault.stack ?? fault.message : String(fault)}\n`);
  process.exit(1);
});
