import { type App } from '../server/ground/context';
import { keys } from '../server/ground/tables/connection';
import { links } from '../server/ground/tables/people';
import { log } from '../server/track/reports/log';

/** Reports that went wrong lately, for the log. */
export function faultyReports(app: App): void {
  const key = app.db.select({ id: keys.id }).from(keys).get()!.id;
  const link = app.db.select().from(links).get()!;
  const row = (reference: string, said: { outcome: string; status: number; said: string }, body: object) =>
    log(
      app,
      { call: 'order', way: 'server', key, reference, body: JSON.stringify(body) },
      { ...said, order: null },
    );
  row(
    'Q-4990',
    { outcome: 'refused', status: 422, said: 'Currency is missing' },
    {
      order: 'Q-4990',
      placedAt: '2027-03-12T08:10:00+00:00',
      lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }],
      visit: link.code,
    },
  );
  row(
    'Q-4991',
    { outcome: 'refused', status: 422, said: 'Product WHEEL is not known here' },
    {
      order: 'Q-4991',
      placedAt: '2027-03-12T08:22:00+00:00',
      currency: 'EUR',
      lines: [{ product: 'WHEEL', quantity: 1, amount: '199.00' }],
    },
  );
  row(
    'Q-4992',
    {
      outcome: 'not-signed',
      status: 401,
      said: 'The signature does not fit: sign id, timestamp and the raw body, joined by dots, with the key’s secret',
    },
    { order: 'Q-4992' },
  );
}
