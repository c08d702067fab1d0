import type { PortalHome } from '../../../contract/portal/home';
import { formatPercent } from '../../../core/money/percent';
import type { App } from '../../ground/context';
import type { AffiliateRecord } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { broughtBy } from '../../setup/terms/referrals';

/** How an affiliate brings others in, where the programme rewards it or it has earned by it. */
export function referralOf(
  app: App,
  row: Pick<AffiliateRecord, 'id' | 'handle' | 'promotes'>,
): PortalHome['referral'] {
  const { base, referralPpm, referralOf: basis, referralMonths } = theProgramme(app);
  const { count, earned } = broughtBy(app, row.id);
  if ((referralPpm === 0 || !row.promotes) && count === 0) return null;
  const time =
    referralMonths === null
      ? 'for as long as they are with us'
      : `for ${referralMonths} ${referralMonths === 1 ? 'month' : 'months'} from the day they join`;
  return {
    address: `${app.address}/join?by=${row.handle}`,
    count,
    earned: { amount: earned, currency: base },
    said:
      referralPpm === 0
        ? 'Newcomers are not shared any more; what was agreed before runs on.'
        : `You get ${formatPercent(referralPpm)} of ${basis === 'sale' ? 'each sale' : 'each commission'} of those who join by it, ${time}. It comes out of our part, not out of theirs.`,
  };
}
