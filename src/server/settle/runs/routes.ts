import * as contract from '../../../contract/settle/payouts';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { FileAnswer, serve, serveAct } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { runJob } from '../../registers/programme/job';
import { bankOf } from '../../registers/programme/record';
import { approveRun, reopenRun } from './approve';
import { onlyDecided } from './enough';
import { goOnWithRun } from './onward';
import { runFile, runTable, statementOf } from './read';
import { runReadings } from './readings';
import { createRun, discardRun, excludePayee, runById } from './runs';
import { deliverRun, sendRun } from './send';
import { collectStatus, readStatus, settleByHand } from './settle';

const answer = ({ name, content }: { name: string; content: string }) => new FileAnswer(name, content);

/** The run as its page shows it, read beside the serving thread. */
const read = (app: App, id: Id<'run'>, actor: Actor) =>
  app.reader.say(runReadings.run, { id, actor: actor.id, bank: bankOf(app) !== null });

/** So many payees are through before anybody would look at how far they are. */
const soonThrough = 200;

/** Goes on with what is left of a step, and answers with the run: of a small one when it is through, of a large one as it is at the beginning. */
async function readGoingOn(app: App, id: Id<'run'>, actor: Actor) {
  const goOn = () => runJob(app, { name: 'payout runs', work: () => goOnWithRun(app, id) });
  const isSmall = runById(app, id).payees <= soonThrough;
  if (isSmall) await goOn();
  const found = await read(app, id, actor);
  if (!isSmall) void goOn();
  return found;
}

/** Payout runs, their files and what banks say of them. */
export function payoutRoutes(site: Site): void {
  readingRoutes(site);
  draftRoutes(site);
  stepRoutes(site);
  bankRoutes(site);
}

function readingRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listRuns, ({ query }) => app.reader.say(runReadings.runs, query));
  serve(site, contract.readRun, ({ actor, params }) => read(app, params.id, actor));
  serve(site, contract.listRunPayments, ({ params, query }) =>
    app.reader.say(runReadings.runPayments, { id: params.id, query }),
  );
  serve(site, contract.listLeftOut, ({ params, query }) =>
    app.reader.say(runReadings.leftOut, { id: params.id, query }),
  );
}

function draftRoutes(site: Site): void {
  const { app } = site;
  serveAct(
    site,
    contract.createRun,
    { act: ({ actor, body }) => createRun(app, actor, body), reply: (id, { actor }) => read(app, id, actor) },
    { tried: true },
  );
  serveAct(site, contract.excludePayee, {
    act: ({ actor, params, body }) =>
      excludePayee(app, actor, params.id, {
        affiliate: body.affiliate,
        exclude: body.exclude,
        version: body.version,
      }),
    reply: (_, { actor, params }) => read(app, params.id, actor),
  });
  serveAct(site, contract.discardRun, {
    act: ({ actor, params, body }) => discardRun(app, actor, params.id, body.version),
    reply: (_, { actor, params }) => read(app, params.id, actor),
  });
}

function stepRoutes(site: Site): void {
  const { app } = site;
  serveAct(site, contract.approveRun, {
    ahead: ({ params }) => app.reader.ask(runReadings.awaited, { id: params.id }),
    act: ({ actor, params, body }, awaited) =>
      approveRun(app, actor, params.id, {
        version: body.version,
        total: body.total,
        awaited: awaited ?? [],
        enough: onlyDecided,
      }),
    reply: (_, { actor, params }) => readGoingOn(app, params.id, actor),
  });
  serveAct(site, contract.reopenRun, {
    act: ({ actor, params, body }) =>
      reopenRun(app, actor, params.id, { version: body.version, enough: onlyDecided }),
    reply: (_, { actor, params }) => readGoingOn(app, params.id, actor),
  });
  serveAct(site, contract.sendRun, {
    ahead: ({ params }) =>
      app.reader.work(runReadings.writtenFile, { id: params.id }, () => undefined).result,
    act: ({ actor, params, body }, file) =>
      sendRun(app, actor, params.id, { version: body.version, file, enough: onlyDecided }),
    reply: (_, { actor, params }) => readGoingOn(app, params.id, actor),
  });
}

function bankRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readStatusReport, ({ actor, body }) =>
    readStatus(app, actor, body.name, body.content),
  );
  serve(site, contract.collectStatus, ({ actor }) => collectStatus(app, actor));
  serve(site, contract.deliverRun, async ({ actor, params }) => {
    await deliverRun(app, params.id);
    return read(app, params.id, actor);
  });
  serveAct(site, contract.settleByHand, {
    act: ({ actor, params, body }) => settleByHand(app, actor, params.id, body.reference.trim()),
    reply: (id, { actor }) => read(app, id, actor),
  });
  serve(site, contract.runXml, ({ params }) => answer(runFile(app, params.id)));
  serve(site, contract.runCsv, ({ params }) => answer(runTable(app, params.id)));
  serve(site, contract.statement, ({ params }) => answer(statementOf(app, params.id, null)));
}
