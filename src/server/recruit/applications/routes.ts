import * as contract from '../../../contract/recruit/applications';
import * as screening from '../../../contract/recruit/screening';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { affiliateOf } from '../../registers/access/session';
import { changeDecision } from './change';
import { decide, reopen } from './decide';
import { join, readJoinPage } from './join';
import { answer, ask, readQuestion } from './questions';
import { applicationReadings } from './readings';
import { cancelRuleRehearsal, lastRehearsal, startRuleRehearsal } from './rehearsal';
import { createRule, editRule, orderRules, removeRule } from './screening';
import { readApplication } from './service';
import { weighDecision } from './weigh';

export function recruitingRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readJoinPage, ({ query, req }) =>
    readJoinPage(app, query.product, query.by, affiliateOf(app, req)),
  );
  serve(site, contract.join, ({ body, req }) => join(app, body, affiliateOf(app, req)));
  serve(site, contract.listApplications, ({ query }) =>
    app.reader.say(applicationReadings.applications, query),
  );
  serve(site, contract.decideApplications, ({ actor, body }) => decide(app, actor, body));
  serve(site, contract.weighDecision, ({ body }) => weighDecision(app, body.ids));
  serve(site, contract.changeDecision, ({ actor, params, body }) =>
    changeDecision(app, actor, params.id, body),
  );
  serve(site, contract.reopenApplications, ({ actor, body }) => reopen(app, actor, body.ids));
  serve(site, screening.listRules, () => app.reader.say(applicationReadings.rules, {}));
  serve(site, screening.createRule, ({ actor, body }) => createRule(app, actor, body), {
    tried: true,
  });
  serve(site, screening.orderRules, ({ actor, body }) => orderRules(app, actor, body.ids));
  serve(site, screening.editRule, ({ actor, params, body }) => editRule(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, screening.removeRule, ({ actor, params }) => removeRule(app, actor, params.id));
  serve(site, screening.readRuleRehearsal, () => lastRehearsal(app));
  serve(site, screening.startRuleRehearsal, ({ actor }) => startRuleRehearsal(app, actor));
  serve(site, screening.cancelRuleRehearsal, () => cancelRuleRehearsal(app));
  serve(
    site,
    contract.askApplicant,
    ({ actor, params, body }) => {
      ask(app, actor, params.id, body.question);
      return readApplication(app, params.id);
    },
    { tried: true },
  );
  serve(site, contract.readQuestion, ({ params }) => readQuestion(app, params.token));
  serve(site, contract.answerQuestion, ({ params, body }) =>
    app.transaction(() => answer(app, params.token, body.answer)),
  );
  serve(site, contract.readApplication, ({ params }) =>
    app.reader.say(applicationReadings.application, params),
  );
}
