import type { Express } from 'express';
import * as contract from '../../contract/settle/ledger';
import {
  clearCommissions,
  correctCommission as correct,
  declineCommission as decline,
} from '../../contract/track/tracking';
import type { App } from '../ground/context';
import { serve } from '../ground/http/serve';
import { correctCommission } from './amend';
import { clearByPerson, declineCommission } from './journal';
import { ledgerReadings } from './readings';

export function ledgerRoutes(server: Express, app: App): void {
  serve(server, app, contract.readBalances, () => app.reader.say(ledgerReadings.balances, {}));
  serve(server, app, contract.listEntries, ({ query }) => app.reader.say(ledgerReadings.entries, query));
  serve(server, app, contract.listCommissions, ({ query }) =>
    app.reader.say(ledgerReadings.commissions, query),
  );
  serve(server, app, clearCommissions, ({ actor, body }) => clearByPerson(app, actor, body.ids));
  serve(server, app, correct, ({ actor, params, body }) =>
    correctCommission(app, actor, params.id, { difference: body.difference, reason: body.reason.trim() }),
  );
  serve(server, app, decline, ({ actor, params, body }) =>
    declineCommission(app, actor, params.id, body.reason.trim()),
  );
}
