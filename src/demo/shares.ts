import { eq } from 'drizzle-orm';
import type { Actor, App } from '../server/ground/context';
import { affiliates } from '../server/ground/tables/people';
import { productByCode } from '../server/registers/catalogue/store';
import { readSettings, saveTermsSettings } from '../server/setup/settings/settings';
import { addPartner, setCoOwners } from '../server/setup/terms/coowners';
import { madeUpIban } from './iban';
import { coOwner, referral } from './scenario';

/** Plans what is shared: what bringing others in earns, and the partner in the course. */
export function planShares(
  app: App,
  owner: Actor,
  {
    manager,
    password,
    plan,
    at,
  }: {
    manager: Actor;
    password: string;
    plan: (at: number, act: () => void) => void;
    at: (day: string, hour?: number) => number;
  },
): void {
  plan(at(referral.day, 10), () => {
    const { noticeWeeks, lowEarning, version } = readSettings(app);
    saveTermsSettings(app, owner, {
      noticeWeeks,
      lowEarning,
      feePercent: '1.4',
      feeFixed: '0.25',
      referralPercent: referral.percent,
      referralOf: referral.of,
      referralMonths: referral.months,
      version,
    });
  });
  plan(at(coOwner.day, 10), () => {
    const { id } = addPartner(app, manager, coOwner);
    app.db
      .update(affiliates)
      .set({
        password,
        payeeHolder: coOwner.name,
        payeeIban: madeUpIban(90),
        payeeAddress: 'Fjordgata 3, Skogn',
      })
      .where(eq(affiliates.id, id))
      .run();
    setCoOwners(app, manager, productByCode(app, coOwner.product)!.id, {
      owners: [{ payee: id, percent: coOwner.percent }],
      expects: [],
    });
  });
}
