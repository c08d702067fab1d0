import type { Server } from 'node:http';
import { assemble, type Running } from './assemble';
import { ownerOnly, readSettings, writableFolder, type Settings } from './ground/environment';
import { compileContract, compileSignedCalls } from './ground/http/ahead';

function listen(server: Server, port: number, host: string, what: string): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', (fault: NodeJS.ErrnoException) =>
      reject(
        fault.code === 'EADDRINUSE'
          ? new Error(
              `Port ${port} is taken, so ${what} cannot start. End the other program, or choose another port with GRAVENEL_PORT.`,
            )
          : fault.code === 'EADDRNOTAVAIL'
            ? new Error(
                `${host} is no address of this machine, so ${what} cannot listen there. Choose another with GRAVENEL_HOST.`,
              )
            : fault,
      ),
    );
    server.listen(port, host, () => resolve());
  });
}

const thisMachine = '127.0.0.1';
/** So long after the start what nobody has asked for yet is prepared, in milliseconds. */
const calm = 30_000;

/** Starts the stand-ins where they are wanted, now or once a programme that tries Gravenel out is set up. @returns the servers that run */
async function runStandins(running: Running, settings: Settings): Promise<Server[]> {
  const servers: Server[] = [];
  const start = async () => {
    if (servers.length || !running.standinsWanted()) return;
    const { shop, registry } = running.openStandins();
    servers.push(shop, registry);
    await listen(shop, settings.standinPort, thisMachine, 'the shop stand-in');
    await listen(registry, settings.standinPort + 1, thisMachine, 'the registry stand-in');
  };
  await start();
  running.app.kept.onSetUp.push(() =>
    start().catch((fault: unknown) => running.app.faults.note('stand-ins', fault)),
  );
  return servers;
}

async function main(): Promise<void> {
  ownerOnly();
  const settings = readSettings(process.env.GRAVENEL_ROOT ?? process.cwd(), process.env);
  writableFolder(settings.data);
  const running = assemble(settings);
  compileSignedCalls();
  await listen(running.http, settings.port, settings.host, 'Gravenel');
  const standins = await runStandins(running, settings);
  const stopJobs = running.startJobs();
  // the last net: what no other place caught is counted and logged, and everybody else is served on
  process.on('uncaughtException', (fault) => running.app.faults.note('process', fault));
  process.on('unhandledRejection', (fault) => running.app.faults.note('process', fault));
  process.stdout.write(`Gravenel is ready at ${settings.address}\n`);
  if (process.send) process.send(standins.length ? 'ready with stand-ins' : 'ready');
  // those who waited for the start are served first
  const ahead = setTimeout(() => void compileContract(), calm);

  let ending = false;
  const end = () => {
    if (ending) return;
    ending = true;
    clearTimeout(ahead);
    for (const server of [running.http, ...standins]) server.close();
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
