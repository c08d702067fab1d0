import { accessSync, chmodSync, constants, mkdirSync, readdirSync } from 'node:fs';
import { isIP } from 'node:net';
import { join } from 'node:path';

/** What the environment decides. Everything has a default that is safe on one machine. */
export interface Settings {
  port: number;
  standins: 'on' | 'off' | 'demo';
  /** port of the stand-ins where they run; the registry on the next */
  standinPort: number;
  data: string;
  address: string;
  /** where the server listens */
  host: string;
  /** proxies that may say for whom they ask */
  trustProxy: readonly string[];
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

/** What this process writes is for its owner alone: addresses, sign-ins and accounts of people are in it. */
export function ownerOnly(): void {
  process.umask(0o077);
}

const kept = /^(gravenel\.sqlite.*|standins\.sqlite.*|seal\.key|demo-sign-ins\.txt)$/;

/** Takes from others what an earlier version let them read. */
function closeFiles(folder: string): void {
  chmodSync(folder, 0o700);
  for (const name of readdirSync(folder)) if (kept.test(name)) chmodSync(join(folder, name), 0o600);
}

/** Makes the data folder. @throws Error with a sentence if it cannot be written */
export function writableFolder(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    accessSync(folder, constants.W_OK);
    closeFiles(folder);
  } catch {
    throw new Error(`The data folder ${folder} cannot be written. Choose another with GRAVENEL_DATA.`);
  }
}

const loopbackHosts = ['127.0.0.1', '::1', 'localhost'];

/** The host to listen on. @throws Error where others could reach it and nobody has said by which address */
function hostOf(env: NodeJS.ProcessEnv): string {
  const host = env.GRAVENEL_HOST?.trim() || '127.0.0.1';
  if (isIP(host) === 0 && host !== 'localhost')
    throw new Error(
      `GRAVENEL_HOST must be an address of this machine, such as 127.0.0.1 or 0.0.0.0, not “${host}”`,
    );
  if (!loopbackHosts.includes(host) && !env.GRAVENEL_ADDRESS)
    throw new Error(
      `With GRAVENEL_HOST=${host} others can reach Gravenel: name the address that they use with GRAVENEL_ADDRESS, such as https://partners.quernstone.example`,
    );
  return host;
}

/** The address that people and shops use. @throws Error with an example */
function addressFrom(env: NodeJS.ProcessEnv, port: number): string {
  const text = (env.GRAVENEL_ADDRESS ?? `http://127.0.0.1:${port}`).trim().replace(/\/+$/, '');
  const url = URL.canParse(text) ? new URL(text) : null;
  if (
    !url ||
    !/^https?:$/.test(url.protocol) ||
    url.pathname !== '/' ||
    url.search !== '' ||
    url.username !== ''
  )
    throw new Error(
      `GRAVENEL_ADDRESS must be a web address without a path, such as https://partners.quernstone.example, not “${text}”`,
    );
  return url.origin;
}

/** Whether the stand-ins run: always, never, or, where nothing is said, for a programme that tries Gravenel out. */
function standinsOf(env: NodeJS.ProcessEnv): Settings['standins'] {
  const said = env.GRAVENEL_STANDINS ?? 'demo';
  if (said !== 'on' && said !== 'off' && said !== 'demo')
    throw new Error(`GRAVENEL_STANDINS must be on, off or demo, not “${said}”`);
  return said;
}

/** @param root the project's folder @throws Error with a sentence that names the variable */
export function readSettings(root: string, env: NodeJS.ProcessEnv): Settings {
  const port = env.GRAVENEL_PORT === undefined ? 4310 : Number(env.GRAVENEL_PORT);
  if (!Number.isInteger(port) || port < 1 || port > 65_533)
    throw new Error(`GRAVENEL_PORT must be a port from 1 to 65533, not “${env.GRAVENEL_PORT}”`);
  return {
    port,
    standins: standinsOf(env),
    standinPort: port + 1,
    data: env.GRAVENEL_DATA ?? join(root, 'data'),
    host: hostOf(env),
    trustProxy: (env.GRAVENEL_TRUST_PROXY ?? '')
      .split(',')
      .map((p) => p.trim())
      .filter(Boolean),
    address: addressFrom(env, port),
    seal: env.GRAVENEL_SEAL,
    smtp: env.GRAVENEL_SMTP,
    registry: env.GRAVENEL_REGISTRY?.replace(/\/+$/, ''),
    logLevel: env.GRAVENEL_LOG ?? 'warn',
    migrations: join(root, 'src/server/ground/db/migrations'),
    web: join(root, 'dist/web'),
    docs: join(root, 'docs'),
    rehearser: join(root, 'dist/server/rehearse.cjs'),
  };
}
