import { offsetAt } from '../../../core/calendar/zone';
import { toDecimal } from '../../../core/money/amount';
import { type ProductKind } from '../../../core/pricing/product';
import { type App } from '../../ground/context';
import { theProgramme } from '../programme/record';
import { detailsOf } from './details';
import { type ProductRecord } from './store';

/** The details as a form shows them. */
export function detailsAsTyped(app: App, row: ProductRecord) {
  const d = detailsOf(row);
  const { zone } = theProgramme(app);
  const decimal = (amount: number | null) => (amount === null ? '' : toDecimal(amount, row.currency));
  return {
    kind: row.kind as ProductKind,
    language: d.language,
    contentKind: d.contentKind,
    categories: d.categories.join(', '),
    keywords: d.keywords.join(', '),
    supportAddress: d.supportAddress,
    supportPage: d.supportPage,
    receiptNote: d.receiptNote,
    saleNotice: d.saleNotice,
    delivery: d.delivery,
    downloadDays: d.downloadDays,
    confirmOffer: d.confirmOffer,
    confirmNotAfter: d.confirmNotAfter.join(', '),
    accessPage: d.accessPage,
    accessParameters: d.accessParameters.join(', '),
    mobilePage: d.mobilePage,
    fallbackPage: d.fallbackPage,
    furtherPages: d.furtherPages.join('\n'),
    prelaunchPage: d.prelaunchPage,
    handParameter: d.handParameter,
    handAs: d.handAs,
    launchAt:
      d.launchAt === null ? '' : new Date(d.launchAt + offsetAt(d.launchAt, zone)).toISOString().slice(0, 16),
    prices: Object.fromEntries(Object.entries(d.prices).map(([c, amount]) => [c, toDecimal(amount, c)])),
    step: decimal(d.stepped?.step ?? null),
    stepEvery: d.stepped ? String(d.stepped.every) : '',
    stepCeiling: decimal(d.stepped?.ceiling ?? null),
    stock: d.stock === null ? '' : String(d.stock),
    listed: d.listed,
    recruiting: d.recruiting,
    trialDays: d.trialDays,
    renewalPrice: decimal(d.renewalPrice),
    interval: d.interval,
    intervalDays: d.intervalDays,
    renewals: d.renewals === null ? '' : String(d.renewals),
    renewalName: d.renewalName,
    renewalAbout: d.renewalAbout,
    noticeDays: d.noticeDays,
    instalments: d.instalments,
  };
}
