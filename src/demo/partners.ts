import { kindsIn } from '../core/recruiting/kinds';
import type { RegistryPartner } from '../server/ground/ports';
import { drawn, partnerAt, partnerCount } from '../standins/partners';
import { demoAffiliates } from './scenario-affiliates';
import { waiting } from './scenario-applicants';

/** The scenario's own affiliates and applicants as the registry lists them, each under a second site that is not the one they apply with. */
export const ownPartners: RegistryPartner[] = [
  ...demoAffiliates,
  ...waiting.filter((w) => !demoAffiliates.some((a) => a.email === w.email)),
].map((a, i) => {
  const sales = a.bad ? 0 : Math.floor(Math.exp(drawn(i, 40) * 7));
  const kinds = kindsIn(a.channels);
  return {
    id: `P-${String(i + 1).padStart(6, '0')}`,
    name: a.name,
    sites: [`https://${a.site}`, `https://${a.name.toLowerCase().replace(/[^a-z]+/g, '')}-elsewhere.example`],
    country: a.country,
    kinds: kinds.length ? kinds : ['blog'],
    audience: 400 + Math.floor(drawn(i, 41) * 9000),
    intro: a.note || `Writes about pots: ${a.channels}.`,
    sales,
    refunds: Math.floor(sales * drawn(i, 42) * 0.09),
    since: `20${18 + (i % 8)}-0${1 + (i % 9)}-1${i % 10}`,
    vouched: '',
    changedAt: Date.UTC(2026, 0, 1),
  };
});

/** All 30,000, own ones first, as the stand-in lists them. */
export function everyPartner(): RegistryPartner[] {
  return [
    ...ownPartners,
    ...Array.from({ length: partnerCount - ownPartners.length }, (_, i) => partnerAt(i)),
  ];
}

/** Partners of the crowd for whom the registry vouches, the first so many. */
export function vouchedPartners(count: number): RegistryPartner[] {
  const found: RegistryPartner[] = [];
  for (let i = 0; found.length < count; i += 1) {
    const p = partnerAt(i);
    if (p.vouched) found.push(p);
  }
  return found;
}
