import { chmodSync, copyFileSync, existsSync, mkdirSync, readdirSync, renameSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** The folder of a data folder with what creatives are made of, each file named by its content. */
export const materialFolder = 'material';

/** The files of a folder and its subfolders, without those that are still being written. */
function filesIn(folder: string): string[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder, { withFileTypes: true })
    .filter((entry) => !entry.name.startsWith('.'))
    .flatMap((entry) =>
      entry.isDirectory()
        ? filesIn(join(folder, entry.name)).map((name) => join(entry.name, name))
        : [entry.name],
    );
}

/** Whether the folder has the file of a digest. */
export const hasMaterial = (folder: string, hash: string): boolean =>
  existsSync(join(folder, hash.slice(0, 2), hash));

/** Copies files that are named by their content: one that is there already is the same, and stays. @returns how many there are */
export function copyMaterial(from: string, to: string): number {
  const names = filesIn(from);
  for (const name of names) {
    const target = join(to, name);
    if (existsSync(target)) continue;
    mkdirSync(dirname(target), { recursive: true, mode: 0o700 });
    // under another name first: a copy that breaks off leaves nothing that looks whole
    const making = join(dirname(target), '.copying');
    copyFileSync(join(from, name), making);
    chmodSync(making, 0o600);
    renameSync(making, target);
  }
  return names.length;
}
