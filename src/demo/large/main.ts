// A large programme, grown from the demo: npm run demo:large [-- --part=100]. It takes some minutes and some gigabytes.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { assemble } from '../../server/assemble';
import { touch } from '../../server/ground/cache';
import { type App } from '../../server/ground/context';
import { ownerOnly, readSettings } from '../../server/ground/environment';
import { payments, runs } from '../../server/ground/tables/runs';
import { brokenInvariants } from '../../server/ledger/invariants';
import { indexNotes } from '../../server/recruit/applications/notes';
import { writePain001 } from '../../server/settle/bank/pain001';
import { transfersOf } from '../../server/settle/runs/file';
import { planCopies } from './copies';
import { grow } from './grow';

/** The files of runs that were sent, written anew: each has more payees now. */
function writeFiles(app: App): void {
  for (const run of app.db
    .select()
    .from(runs)
    .all()
    .filter((r) => r.file !== null && r.sentAt !== null)) {
    const rows = app.db.select().from(payments).where(eq(payments.run, run.id)).orderBy(payments.id).all();
    app.db
      .update(runs)
      .set({ file: writePain001(transfersOf(app, run, rows, run.sentAt!)) })
      .where(eq(runs.id, run.id))
      .run();
  }
}

function main(): void {
  ownerOnly();
  const part = Number(/^--part=(\d{1,4})$/.exec(process.argv[2] ?? '--part=1')?.[1] ?? NaN);
  if (!(part >= 1))
    throw new Error(
      `“${process.argv[2]}” is not understood: write --part=100 for a hundredth of the large programme, or nothing.`,
    );
  const settings = readSettings(process.env.GRAVENEL_ROOT ?? process.cwd(), process.env);
  if (!existsSync(join(settings.data, 'gravenel.sqlite')))
    throw new Error(`There is no demo in ${settings.data}: npm run demo:large makes it first.`);
  const begun = performance.now();
  const say = (what: string) => {
    process.stdout.write(`${((performance.now() - begun) / 1000).toFixed(0).padStart(4)} s  ${what}\n`);
  };
  const running = assemble(
    { ...settings, logLevel: 'silent' },
    { now: Date.now, real: Date.now, advance: () => undefined },
  );
  const { app } = running;
  const { sqlite } = app;
  sqlite.pragma('synchronous = OFF');
  sqlite.pragma('temp_store = FILE');
  sqlite.pragma('cache_size = -512000');
  app.transaction(() => {
    const { copies, echoes } = planCopies(sqlite, part);
    say(
      `${copies.toLocaleString('en-GB')} more affiliates; visits of those who sell nothing ${echoes} times`,
    );
    grow(sqlite, sqlite.prepare('SELECT zone FROM programme').pluck().get() as string, say);
  });
  touch(app, 'records');
  say('the files of payout runs');
  writeFiles(app);
  say('notes of applications');
  while (indexNotes(app, 2000) > 0);
  say('statistics for the planner');
  sqlite.exec('ANALYZE');
  sqlite.pragma('wal_checkpoint(TRUNCATE)');
  say('every invariant');
  const broken = brokenInvariants(sqlite);
  const counts = sqlite
    .prepare(
      'SELECT (SELECT count(*) FROM affiliates) AS affiliates, (SELECT count(*) FROM orders) AS orders, (SELECT count(*) FROM commissions) AS commissions, (SELECT count(*) FROM visits) AS visits',
    )
    .get();
  running.close();
  for (const { rule, rows } of broken) process.stdout.write(`Broken: ${rule}: ${rows.join(', ')}\n`);
  say(`done: ${JSON.stringify(counts)}, ${broken.length} broken`);
  if (broken.length) process.exitCode = 1;
}

main();
