import { randomUUID } from 'node:crypto';
import { rmSync } from 'node:fs';
import { access, mkdir, open, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { UploadsPort } from './ports';

const digestPattern = /^[0-9a-f]{64}$/;

/** A content is written beside its place, brought to the disk, and only then named: what is cut off leaves nothing half there. */
async function write(file: string, content: Buffer): Promise<void> {
  const folder = dirname(file);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const making = join(folder, `.${randomUUID()}`);
  try {
    const handle = await open(making, 'wx', 0o600);
    try {
      await handle.writeFile(content);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(making, file);
    const place = await open(folder, 'r');
    await place.sync().finally(() => place.close());
  } catch (fault) {
    await rm(making, { force: true });
    throw fault;
  }
}

const isThere = (file: string): Promise<boolean> =>
  access(file).then(
    () => true,
    () => false,
  );

/** Uploads as files of a folder, in subfolders by the first two digits of their digests. */
export function uploadsIn(folder: string): UploadsPort {
  const pathOf = (digest: string): string => {
    if (!digestPattern.test(digest)) throw new TypeError('a content is named by its SHA-256 digest');
    return join(folder, digest.slice(0, 2), digest);
  };
  return {
    pathOf,
    keep: async (digest, content) => {
      const file = pathOf(digest);
      if (!(await isThere(file))) await write(file, content);
    },
    // at once: what is uploaded meanwhile must not find it there and lose it
    forget: (digest) => rmSync(pathOf(digest), { force: true }),
  };
}
