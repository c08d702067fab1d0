import { createServer } from 'node:net';

/** Three neighbouring free ports on loopback: for Gravenel, for the stand-ins, for the registry. */
export async function freePorts(): Promise<number> {
  const tryPort = (port: number) =>
    new Promise<boolean>((resolve) => {
      const probe = createServer()
        .once('error', () => resolve(false))
        .once('listening', () => probe.close(() => resolve(true)));
      probe.listen(port, '127.0.0.1');
    });
  // below what the system takes for connections of its own
  for (let tries = 0; tries < 200; tries += 1) {
    const port = 20_000 + Math.floor(Math.random() * 3_000) * 4;
    if ((await tryPort(port)) && (await tryPort(port + 1)) && (await tryPort(port + 2))) return port;
  }
  throw new Error('No three neighbouring ports are free');
}
