import type { Express } from 'express';
import * as contract from '../../contract/payouts';
import type { App } from '../context';
import { bankOf } from '../context';
import { FileAnswer, serve } from '../http/serve';
import { readRun, runFile, runTable, statementOf } from './read';
import { approveRun, createRun, deliverRun, discardRun, excludePayee, reopenRun, sendRun } from './runs';
import { collectStatus, readStatus, settleByHand } from './settle';

const answer = ({ name, content }: { name: string; content: string }) => new FileAnswer(name, content);

export function payoutRoutes(server: Express, app: App): void {
  serve(server, app, contract.listRuns, ({ query }) => app.reader.say('runs', query));
  serve(server, app, contract.createRun, ({ actor, body }) => readRun(app, createRun(app, actor, body), actor.id), { tried: true });
  serve(server, app, contract.readStatusReport, ({ actor, body }) => readStatus(app, actor, body.name, body.content));
  serve(server, app, contract.collectStatus, ({ actor }) => collectStatus(app, actor));
  serve(server, app, contract.readRun, ({ actor, params }) => app.reader.say('run', { id: params.id, actor: actor.id, bank: bankOf(app) !== null }));
  serve(server, app, contract.listRunPayments, ({ params, query }) => app.reader.say('runPayments', { id: params.id, query }));
  serve(server, app, contract.listLeftOut, ({ params, query }) => app.reader.say('leftOut', { id: params.id, query }));
  serve(server, app, contract.excludePayee, ({ actor, params, body }) => {
    excludePayee(app, actor, params.id, body.affiliate, body.exclude, body.version);
    return readRun(app, params.id, actor.id);
  });
  const steps = [[contract.reopenRun, reopenRun], [contract.discardRun, discardRun], [contract.sendRun, sendRun]] as const;
  for (const [end, act] of steps) {
    serve(server, app, end, ({ actor, params, body }) => {
      act(app, actor, params.id, body.version);
      return readRun(app, params.id, actor.id);
    });
  }
  serve(server, app, contract.approveRun, ({ actor, params, body }) => {
    approveRun(app, actor, params.id, body.version, body.total);
    return readRun(app, params.id, actor.id);
  });
  serve(server, app, contract.deliverRun, async ({ actor, params }) => {
    await deliverRun(app, params.id);
    return readRun(app, params.id, actor.id);
  });
  serve(server, app, contract.settleByHand, ({ actor, params, body }) => readRun(app, settleByHand(app, actor, params.id, body.reference.trim()), actor.id));
  serve(server, app, contract.runXml, ({ params }) => answer(runFile(app, params.id)));
  serve(server, app, contract.runCsv, ({ params }) => answer(runTable(app, params.id)));
  serve(server, app, contract.statement, ({ params }) => answer(statementOf(app, params.id, null)));
}
