import { createServer } from 'node:net';

/** Two neighbouring free ports on loopback: the first for Gravenel, the next for the stand-ins. */
export async function freePorts(): Promise<number> {
  const tryPort = (port: number) => new Promise<boolean>((resolve) => {
    const probe = createServer().once('error', () => resolve(false)).once('listening', () => probe.close(() => resolve(true)));
    probe.listen(port, '127.0.0.1');
  });
  for (let tries = 0; tries < 200; tries += 1) {
    const port = 20_000 + Math.floor(Math.random() * 20_000) * 2;
    if (await tryPort(port) && await tryPort(port + 1)) return port;
  }
  throw new Error('No two neighbouring ports are free');
}
