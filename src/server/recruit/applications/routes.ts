import type { Express } from 'express';
import * as contract from '../../../contract/recruit/applications';
import * as screening from '../../../contract/recruit/screening';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { affiliateOf } from '../../registers/access/session';
import { changeDecision } from './change';
import { join, readJoinPage } from './join';
import { answer, ask, readQuestion } from './questions';
import { applicationReadings } from './readings';
import { cancelRuleRehearsal, lastRehearsal, startRuleRehearsal } from './rehearsal';
import { createRule, editRule, orderRules, removeRule } from './screening';
import { decide, readApplication, reopen } from './service';
import { weighDecision } from './weigh';

export function recruitingRoutes(server: Express, app: App): void {
  serve(server, app, contract.readJoinPage, ({ query, req }) =>
    readJoinPage(app, query.product, query.by, affiliateOf(app, req)),
  );
  serve(server, app, contract.join, ({ body, req }) => join(app, body, affiliateOf(app, req)));
  serve(server, app, contract.listApplications, ({ query }) =>
    app.reader.say(applicationReadings.applications, query),
  );
  serve(server, app, contract.decideApplications, ({ actor, body }) => decide(app, actor, body));
  serve(server, app, contract.weighDecision, ({ body }) => weighDecision(app, body.ids));
  serve(server, app, contract.changeDecision, ({ actor, params, body }) =>
    changeDecision(app, actor, params.id, body),
  );
  serve(server, app, contract.reopenApplications, ({ actor, body }) => reopen(app, actor, body.ids));
  serve(server, app, screening.listRules, () => app.reader.say(applicationReadings.rules, {}));
  serve(server, app, screening.createRule, ({ actor, body }) => createRule(app, actor, body), {
    tried: true,
  });
  serve(server, app, screening.orderRules, ({ actor, body }) => orderRules(app, actor, body.ids));
  serve(server, app, screening.editRule, ({ actor, params, body }) => editRule(app, actor, params.id, body), {
    tried: true,
  });
  serve(server, app, screening.removeRule, ({ actor, params }) => removeRule(app, actor, params.id));
  serve(server, app, screening.readRuleRehearsal, () => lastRehearsal(app));
  serve(server, app, screening.startRuleRehearsal, ({ actor }) => startRuleRehearsal(app, actor));
  serve(server, app, screening.cancelRuleRehearsal, () => cancelRuleRehearsal(app));
  serve(
    server,
    app,
    contract.askApplicant,
    ({ actor, params, body }) => {
      ask(app, actor, params.id, body.question);
      return readApplication(app, params.id);
    },
    { tried: true },
  );
  serve(server, app, contract.readQuestion, ({ params }) => readQuestion(app, params.token));
  serve(server, app, contract.answerQuestion, ({ params, body }) =>
    app.transaction(() => answer(app, params.token, body.answer)),
  );
  serve(server, app, contract.readApplication, ({ params }) =>
    app.reader.say(applicationReadings.application, params),
  );
}
