import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { assemble } from '../server/assemble';
import { ownerOnly, readSettings, writableFolder } from '../server/ground/environment';
import { deliverWaiting } from '../server/registers/outbox/delivery';
import { listPartners } from '../standins/registry';
import { keepCoupons } from '../standins/shop/coupons';
import { openStandins, setSwitch } from '../standins/store';
import { shopCoupons } from './material/coupons';
import { ownPartners } from './partners';
import { playDemo } from './play';
import { demoKey, demoProducts } from './scenario';

/** Fills the shop stand-in: its shelf and its key. */
function stockShop(file: string): void {
  const db = openStandins(file);
  for (const p of demoProducts)
    db.prepare('INSERT OR REPLACE INTO shelf VALUES (?, ?, ?, ?)').run(
      p.code,
      p.name,
      p.price || '0.00',
      'EUR',
    );
  setSwitch(db, 'key', demoKey.id);
  setSwitch(db, 'secret', demoKey.secret);
  keepCoupons(db, shopCoupons);
  listPartners(db, ownPartners);
  db.close();
}

async function main(): Promise<void> {
  ownerOnly();
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  const root = process.env.GRAVENEL_ROOT ?? process.cwd();
  const settings = readSettings(root, process.env);
  writableFolder(settings.data);
  // made aside and moved at the end: a demo that was interrupted is begun again, not taken for a whole one
  const making = join(settings.data, 'making');
  rmSync(making, { recursive: true, force: true });
  mkdirSync(making, { mode: 0o700 });
  let moment = 0;
  const running = assemble(
    { ...settings, data: making },
    {
      now: () => moment,
      real: Date.now,
      advance: (milliseconds) => {
        moment += milliseconds;
      },
    },
  );
  if (settings.standins !== 'off') running.openStandins();
  running.app.sqlite.pragma('synchronous = OFF');
  await playDemo(
    running.app,
    {
      // through the clock that acts stand still by: hours of the demo are played in one transaction
      set: (at) => running.app.clock.advance(at - running.app.clock.now()),
    },
    { films: join(root, 'src/demo/films') },
  );
  while (await deliverWaiting(running.app, 500));
  running.app.sqlite.pragma('wal_checkpoint(TRUNCATE)');
  running.close();
  const files = ['material', 'seal.key', 'gravenel.sqlite'];
  if (settings.standins !== 'off') {
    stockShop(join(making, 'standins.sqlite'));
    files.unshift('standins.sqlite');
  }
  if (settings.seal) files.splice(files.indexOf('seal.key'), 1);
  // uploads of what was there before belong to no record of this one
  rmSync(join(settings.data, 'material'), { recursive: true, force: true });
  for (const file of files) renameSync(join(making, file), join(settings.data, file));
  rmSync(making, { recursive: true, force: true });
  writeFileSync(join(settings.data, 'demo-sign-ins.txt'), 'This data folder holds the demo.\n');
}

main().catch((fault: unknown) => {
  process.stderr.write(
    `The demo data could not be made. ${fault instanceof Error ? fault.message : String(fault)}\n`,
  );
  process.exit(1);
});
