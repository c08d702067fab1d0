import { daysBetween } from '../../core/calendar/zone';
import { hours, type At, type Plan } from '../agenda';
import type { Purchase } from '../purchases';
import { Seeded } from '../random';
import { demoProducts } from '../scenario';
import { demoAffiliates } from '../scenario-affiliates';

const days = { from: '2027-02-22', to: '2027-02-28' };

/** Buyers of each day, the first the most: what a code brings when it is new. */
const buyers = [14, 11, 8, 6, 5, 4, 3];

interface Hands {
  at: At;
  /** writes a visit by an affiliate; null where it has no link */
  write: (email: string, code: string, moment: number, automated: boolean) => string | null;
  sell: (p: Purchase) => void;
}

/** A week in which a code for the first box is new: visits and sales beside those of every day. */
export function planLaunch(plan: Plan, { at, write, sell }: Hands): void {
  const random = new Seeded(1_515);
  const product = demoProducts.find((p) => p.code === 'GLAZE-M')!;
  let number = 0;
  daysBetween(days.from, days.to).forEach((day, i) => {
    for (let n = 0; n < buyers[i]! * 6; n += 1) {
      const moment = at(day, 0) + Math.floor((8 + random.next() * 13) * hours);
      const who = random.weighted(demoAffiliates, (a) => a.weight);
      const buys = n % 6 === 0;
      number += buys ? 1 : 0;
      const reference = `Q-L${String(number).padStart(3, '0')}`;
      const renewals = random.whole(0, 1);
      plan(moment, () => {
        const visit = write(who.email, product.code, moment, false);
        if (visit && buys)
          sell({
            ...{ reference, product, visit, renewals, coupon: 'GLAZE15', at: moment + 9 * 60_000 },
            ...{ twice: false, refund: false, part: false, quantity: 1, discount: true, extras: [] },
            ...{ currency: 'EUR', later: 1 },
          });
      });
    }
  });
}
