import type { App } from '../server/ground/context';
import { productByCode } from '../server/registers/catalogue/store';
import { normaliseOrder } from '../server/track/orders/normalise';
import { takePicture } from '../server/track/orders/pictured';
import { log } from '../server/track/reports/log';
import { pictureOutcome } from '../server/track/reports/reports';
import { demoKey } from './scenario';

/** Thank-you pages whose picture was loaded and whose report never came: one has waited for long, one has another price, one looks as it should. */
const pictured = [
  { day: '2027-03-02', hour: 15, order: 'Q-20901', product: 'WHEEL-1', amount: '199.00' },
  { day: '2027-03-09', hour: 11, order: 'Q-20914', product: 'ROLL-1', amount: '58.00' },
  { day: '2027-03-11', hour: 20, order: 'Q-20917', product: 'THROW-V', amount: '89.00' },
];

/** Plans the sales that only a picture tells of. */
export function planPictures(
  app: App,
  plan: (at: number, act: () => void) => void,
  at: (day: string, hour?: number) => number,
): void {
  for (const { day, hour, order, product, amount } of pictured) {
    const moment = at(day, hour);
    plan(moment, () => {
      const visit = app.sqlite
        .prepare<[string, number], string>(
          'SELECT id FROM visits WHERE product = ? AND at <= ? AND barred IS NULL ORDER BY at DESC LIMIT 1',
        )
        .pluck()
        .get(productByCode(app, product)!.id, moment);
      const report = {
        order,
        placedAt: new Date(moment).toISOString(),
        currency: 'EUR',
        lines: [{ product, quantity: 1, amount }],
        ...(visit ? { visit } : {}),
      };
      const taken = takePicture(app, normaliseOrder(app, report), demoKey.id);
      log(
        app,
        { call: 'picture', way: 'picture', key: demoKey.id, reference: order, body: JSON.stringify(report) },
        { outcome: pictureOutcome(taken), status: taken.status, said: taken.said, order: taken.order },
      );
    });
  }
}
