import { accessSync, constants, mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** What the environment decides. Everything has a default that is safe on one machine. */
export interface Settings {
  port: number;
  /** port of the stand-ins, the registry on the next; null = they do not run */
  standinPort: number | null;
  data: string;
  address: string;
  seal: string | undefined;
  smtp: string | undefined;
  /** address of a registry; undefined = the stand-in, in a programme that tries Gravenel out */
  registry: string | undefined;
  logLevel: string;
  migrations: string;
  web: string;
  docs: string;
  /** the program that rehearses in a thread of its own */
  rehearser: string;
}

/** Makes the data folder. @throws Error with a sentence if it cannot be written */
export function writableFolder(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch {
    throw new Error(`The data folder ${folder} cannot be written. Choose another with GRAVENEL_DATA.`);
  }
}

/** @param root the project's folder @throws Error with a sentence that names the variable */
export function readSettings(root: string, env: NodeJS.ProcessEnv): Settings {
  const port = env.GRAVENEL_PORT === undefined ? 4310 : Number(env.GRAVENEL_PORT);
  if (!Number.isInteger(port) || port < 1 || port > 65_533) throw new Error(`GRAVENEL_PORT must be a port from 1 to 65533, not “${env.GRAVENEL_PORT}”`);
  return {
    port, standinPort: env.GRAVENEL_STANDINS === 'off' ? null : port + 1, data: env.GRAVENEL_DATA ?? join(root, 'data'),
    address: (env.GRAVENEL_ADDRESS ?? `http://127.0.0.1:${port}`).replace(/\/+$/, ''), seal: env.GRAVENEL_SEAL, smtp: env.GRAVENEL_SMTP, registry: env.GRAVENEL_REGISTRY?.replace(/\/+$/, ''),
    logLevel: env.GRAVENEL_LOG ?? 'warn', migrations: join(root, 'src/server/db/migrations'), web: join(root, 'dist/web'), docs: join(root, 'docs'), rehearser: join(root, 'dist/server/rehearse.cjs'),
  };
}
