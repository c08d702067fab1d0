import type { Server } from 'node:http';
import { assemble } from './assemble';
import { readSettings, writableFolder } from './settings';

function listen(server: Server, port: number, what: string): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', (fault: NodeJS.ErrnoException) => reject(fault.code === 'EADDRINUSE'
      ? new Error(`Port ${port} is taken, so ${what} cannot start. End the other program, or choose another port with GRAVENEL_PORT.`) : fault));
    server.listen(port, '127.0.0.1', () => resolve());
  });
}

async function main(): Promise<void> {
  const settings = readSettings(process.env.GRAVENEL_ROOT ?? process.cwd(), process.env);
  writableFolder(settings.data);
  const running = assemble(settings);
  await listen(running.http, settings.port, 'Gravenel');
  if (running.standins && settings.standinPort !== null) await listen(running.standins, settings.standinPort, 'the shop stand-in');
  if (running.registry && settings.standinPort !== null) await listen(running.registry, settings.standinPort + 1, 'the registry stand-in');
  const stopJobs = running.startJobs();
  process.stdout.write(`Gravenel is ready at ${settings.address}\n`);
  if (process.send) process.send('ready');

  let ending = false;
  const end = () => {
    if (ending) return;
    ending = true;
    running.http.close();
    running.standins?.close();
    running.registry?.close();
    running.http.closeIdleConnections();
    void stopJobs().finally(() => {
      running.close();
      process.exit(0);
    });
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
}

main().catch((fault: unknown) => {
  process.stderr.write(`${fault instanceof Error ? fault.message : String(fault)}\n`);
  process.exit(1);
});

