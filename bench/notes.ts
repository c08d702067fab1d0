import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../scripts/lib/prepare.mjs';
import { likeness, nearlySame, shinglesOf } from '../src/core/recruiting/notes';
import { Seeded } from '../src/demo/random';
import { actClock } from '../src/server/ground/clock';
import { openStore } from '../src/server/ground/db/open';
import { alikeNotes, indexNotes } from '../src/server/recruit/applications/notes';
import { appWith } from './partial';
import { report } from './report';

const count = 50_000;

/** Notes of a crowd: one in twenty a copy with changes. */
function notes(): string[] {
  const random = new Seeded(5);
  const words = Array.from({ length: 3000 }, (_, i) => `w${i}`);
  const made: string[] = [];
  for (let i = 0; i < count; i += 1) {
    made.push(
      i > 100 && random.chance(0.05)
        ? made[random.whole(0, i - 1)]!.split(' ')
            .map((w) => (random.chance(0.06) ? random.pick(words) : w))
            .join(' ')
        : Array.from({ length: random.whole(20, 70) }, () => random.pick(words)).join(' '),
    );
  }
  return made;
}

const perSecond = (times: number, work: (i: number) => void): number => {
  const began = performance.now();
  for (let i = 0; i < times; i += 1) work(i);
  return (times * 1000) / (performance.now() - began);
};

/** Finding the notes like one among 50,000, by the index in the data file, against comparing it with all of them in memory. */
export function benchNotes(): void {
  const folder = mkdtempSync(join(tmpdir(), 'gravenel-notes-'));
  const store = openStore(join(folder, 'notes.sqlite'), join(root, 'src/server/ground/db/migrations'));
  const app = appWith({
    ...store,
    clock: actClock({ now: () => 1, real: Date.now, advance: () => undefined }),
  });
  const all = notes();
  const person = store.sqlite.prepare(
    "INSERT INTO affiliates (id, handle, name, email, email_key, country, sites, created_at, address_key) VALUES (?, ?, ?, ?, ?, 'PT', '[]', 0, '')",
  );
  const application = store.sqlite.prepare(
    'INSERT INTO applications (id, affiliate, note, created_at) VALUES (?, ?, ?, 0)',
  );
  store.transaction(() => {
    all.forEach((note, i) => {
      person.run(`aff_${i}`, `h${i}`, `N ${i}`, `${i}@x.example`, `${i}@x.example`);
      application.run(`apl_${i}`, `aff_${i}`, note);
    });
  });
  while (indexNotes(app, 2000) > 0);
  const ask = (i: number) =>
    alikeNotes(app, { id: `apl_${i}`, affiliate: `aff_${i}`, note: all[i]! }).like.length;
  const sets = all.map(shinglesOf);
  const scan = (i: number) => {
    let n = 0;
    for (let j = 0; j < count; j += 1) if (j !== i && likeness(sets[i]!, sets[j]!) >= nearlySame) n += 1;
    return n;
  };
  const picks = Array.from({ length: 30 }, (_, i) => i * 1607);
  for (const i of picks)
    if (ask(i) !== scan(i)) throw new Error(`The index and the comparison with all differ for note ${i}`);
  const ours = perSecond(600, (i) => ask((i * 83) % count));
  const limit = perSecond(10, (i) => scan(picks[i]!));
  report(
    `notes like one of ${count.toLocaleString('en-GB')}, by the index in the file ÷ comparing with all in memory`,
    { ours: Math.round(ours), limit: Number(limit.toFixed(1)), ratio: Number((ours / limit).toFixed(1)) },
    10,
  );
  store.close();
  rmSync(folder, { recursive: true, force: true });
}
