import {
  clearCommissions,
  correctCommission as correct,
  declineCommission as decline,
} from '../../contract/settle/commissions';
import * as contract from '../../contract/settle/ledger';
import { serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { correctCommission } from './amend';
import { clearByPerson, declineCommission } from './journal';
import { ledgerReadings } from './readings';

export function ledgerRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readBalances, () => app.reader.say(ledgerReadings.balances, {}));
  serve(site, contract.listEntries, ({ query }) => app.reader.say(ledgerReadings.entries, query));
  serve(site, contract.listCommissions, ({ query }) => app.reader.say(ledgerReadings.commissions, query));
  serve(site, clearCommissions, ({ actor, body }) => clearByPerson(app, actor, body.ids));
  serve(site, correct, ({ actor, params, body }) =>
    correctCommission(app, actor, params.id, { difference: body.difference, reason: body.reason.trim() }),
  );
  serve(site, decline, ({ actor, params, body }) =>
    declineCommission(app, actor, params.id, body.reason.trim()),
  );
}
