import type { Static } from '@sinclair/typebox';
import { and, eq } from 'drizzle-orm';
import { electronicFormatIBAN, isValidIBAN } from 'ibantools';
import type { BodyOf } from '../../../contract/endpoint';
import type { FieldFault } from '../../../contract/explain';
import type {
  editBuyerContacts,
  editMoney,
  editProgramme,
  editRecruiting,
  editTermsSettings,
  ProgrammeOut,
} from '../../../contract/setup/settings';
import { type Role } from '../../../core/access/lists';
import { formatMoney, parseAmount, toDecimal } from '../../../core/money/amount';
import { parsePercent, percentDigits } from '../../../core/money/percent';
import { transferText } from '../../../core/payouts/characters';
import { categories } from '../../../core/recruiting/kinds';
import { fillIn, sentencesIn } from '../../../core/text/live';
import { announcement } from '../../ground/announce';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { staff } from '../../ground/tables/access';
import { difference, record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { stale } from '../../registers/access/stale';
import { logoAddress } from '../../registers/catalogue/files';
import { queue } from '../../registers/outbox/queue';
import { noticeFields, noticeNow } from '../../registers/programme/notice';
import { theProgramme, type Programme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { liveValues } from '../terms/live';
import { readMonths, refuseWorst } from '../terms/referrals';
import { programmeSlot, rewardIn, setReward } from '../terms/service';

export function readSettings(app: App): Static<typeof ProgrammeOut> {
  const p = theProgramme(app);
  const reward = rewardIn(app, programmeSlot);
  return {
    name: p.name,
    contact: p.contact,
    intro: p.intro,
    summary: p.summary,
    logo: logoAddress(app),
    live: liveValues(app),
    rate: reward?.type === 'percent' ? percentDigits(reward.ppm) : '',
    windowDays: p.windowDays,
    logDays: p.logDays,
    landingHosts: p.landingHosts,
    bufferDays: p.bufferDays,
    clearing: p.clearing,
    minimumPayout: toDecimal(p.minimumPayout, p.base),
    approvalAbove: p.approvalAbove === null ? '' : toDecimal(p.approvalAbove, p.base),
    promiseDays: p.promiseDays,
    debtorName: p.debtorName,
    debtorIban: p.debtorIban,
    noticeWeeks: p.noticeWeeks,
    noticeKept:
      noticeNow(app) > p.noticeWeeks ? { weeks: noticeNow(app), until: p.noticeBeforeUntil! } : null,
    lowEarning: toDecimal(p.lowEarning, p.base),
    feePercent: percentDigits(p.feePpm),
    feeFixed: toDecimal(p.feeFixed, p.base),
    clicksPerAddress: p.clicksPerAddress === null ? '' : String(p.clicksPerAddress),
    referralPercent: p.referralPpm ? percentDigits(p.referralPpm) : '',
    referralOf: p.referralOf,
    referralMonths: p.referralMonths === null ? '' : String(p.referralMonths),
    categories: p.categories,
    vouchedIn: p.vouchedIn,
    refundLine: percentDigits(p.refundLine),
    inviteDays: p.inviteDays,
    messagesPerDay: p.messagesPerDay,
    brand: p.brand,
    supportAddress: p.supportAddress,
    supportPage: p.supportPage,
    supportPhone: p.supportPhone,
    base: p.base,
    zone: p.zone,
    version: p.version,
  };
}

function save(
  app: App,
  actor: Actor,
  { version, fields, action }: { version: number; fields: Partial<Programme>; action: string },
) {
  const before = theProgramme(app);
  if (before.version !== version) throw stale(app, 'programme', 'the settings', readSettings(app));
  const change = difference(before, fields);
  changeProgramme(app, { ...fields, version: version + 1 });
  if (Object.keys(change.after).length)
    record(app, actor, action, { subject: 'programme', before: change.before, after: change.after });
  touch(app, 'records');
}

export function saveProgramme(app: App, actor: Actor, input: BodyOf<typeof editProgramme>) {
  const { rate, version, landingHosts, ...rest } = input;
  const parsed = rate.trim() === '' ? null : parsePercent(rate);
  if (parsed && !parsed.ok) throw refuse('rate', `Programme commission: ${parsed.reason}`, parsed.example);
  const strange = [
    ...fillIn(rest.intro, liveValues(app)).unknown,
    ...fillIn(rest.summary, liveValues(app)).unknown,
  ];
  if (strange.length)
    throw refuse(
      fillIn(rest.intro, liveValues(app)).unknown.length ? 'intro' : 'summary',
      `${strange.join(', ')} cannot be filled in: known are the rate or price of a product by its code, {rate} and {window}`,
      '{rate WHEEL-1}',
    );
  const sentences = sentencesIn(rest.summary);
  if (sentences > 2)
    throw refuse(
      'summary',
      `Summary: at most two sentences, these are ${sentences}`,
      'Tools, kilns and courses for people who make pots at home.',
    );
  save(app, actor, {
    version,
    fields: {
      ...rest,
      summary: rest.summary.trim(),
      name: rest.name.trim(),
      contact: rest.contact.trim(),
      landingHosts: [...new Set(landingHosts.map((h) => h.toLowerCase()))],
    },
    action: 'settings-changed',
  });
  setReward(app, actor, programmeSlot, { reward: parsed ? { type: 'percent', ppm: parsed.value } : null });
  return readSettings(app);
}

export function saveTermsSettings(app: App, actor: Actor, input: BodyOf<typeof editTermsSettings>) {
  const { base } = theProgramme(app);
  const faults: FieldFault[] = [];
  const read = (parsed: ReturnType<typeof parseAmount>, field: string, title: string): number => {
    if (parsed.ok) return parsed.value;
    faults.push({ pointer: `/${field}`, detail: `${title}: ${parsed.reason}`, example: parsed.example });
    return 0;
  };
  const lowEarning = read(parseAmount(input.lowEarning || '0', base), 'lowEarning', 'Too little a sale');
  const feePpm = read(parsePercent(input.feePercent || '0'), 'feePercent', 'Payment fee, percent');
  const feeFixed = read(parseAmount(input.feeFixed || '0', base), 'feeFixed', 'Payment fee, fixed');
  const referralPpm = read(parsePercent(input.referralPercent || '0'), 'referralPercent', 'Referral share');
  const clicks = (input.clicksPerAddress ?? readSettings(app).clicksPerAddress ?? '').trim();
  if (clicks !== '' && !/^[1-9]\d{0,3}$/.test(clicks))
    faults.push({
      pointer: '/clicksPerAddress',
      detail: 'Paid clicks of one network address: a whole number from 1 to 9999, or empty for no limit',
      example: '3',
    });
  if (faults.length) throw invalid(faults);
  const referralMonths = readMonths(input.referralMonths, 'referralMonths');
  if (referralPpm > 0) refuseWorst(app, { ppm: referralPpm, of: input.referralOf }, 'referralPercent');
  save(app, actor, {
    version: input.version,
    fields: {
      ...noticeFields(app, input.noticeWeeks),
      lowEarning,
      feePpm,
      feeFixed,
      referralPpm,
      referralOf: input.referralOf,
      referralMonths,
      clicksPerAddress: clicks === '' ? null : Number(clicks),
    },
    action: 'terms-settings-changed',
  });
  return readSettings(app);
}

export function saveRecruiting(app: App, actor: Actor, input: BodyOf<typeof editRecruiting>) {
  const { version, refundLine, ...rest } = input;
  const parsed = parsePercent(refundLine, 'no more than 100 % of sales come back');
  if (!parsed.ok)
    throw refuse('refundLine', `Refund rate that is too high: ${parsed.reason}`, parsed.example);
  const strange = rest.categories.find((c) => !(categories as readonly string[]).includes(c));
  if (strange)
    throw refuse('categories', `Categories: “${strange.slice(0, 40)}” is not in the list`, categories[0]);
  save(app, actor, {
    version,
    fields: { ...rest, categories: [...new Set(rest.categories)], refundLine: parsed.value },
    action: 'recruiting-settings-changed',
  });
  return readSettings(app);
}

export function saveBuyerContacts(app: App, actor: Actor, input: BodyOf<typeof editBuyerContacts>) {
  const { version, brand, supportAddress, supportPage, supportPhone } = input;
  save(app, actor, {
    version,
    fields: {
      brand: brand.trim(),
      supportAddress: supportAddress.trim(),
      supportPage: supportPage.trim(),
      supportPhone: supportPhone.trim(),
    },
    action: 'buyer-contacts-changed',
  });
  return readSettings(app);
}

/** @param role of the actor: the sum above which a second person approves is the owner's to change */
export function saveMoney(app: App, actor: Actor, role: Role | null, input: BodyOf<typeof editMoney>) {
  const { base, approvalAbove: present } = theProgramme(app);
  const faults: FieldFault[] = [];
  const amount = (text: string, field: string, title: string): number => {
    const parsed = parseAmount(text, base);
    if (parsed.ok) return parsed.value;
    faults.push({ pointer: `/${field}`, detail: `${title}: ${parsed.reason}`, example: parsed.example });
    return 0;
  };
  const minimumPayout = amount(input.minimumPayout, 'minimumPayout', 'Minimum payout');
  const approvalAbove =
    input.approvalAbove.trim() === ''
      ? null
      : amount(input.approvalAbove, 'approvalAbove', 'Second approval above');
  const debtorIban = electronicFormatIBAN(input.debtorIban) ?? '';
  if (input.debtorIban.trim() !== '' && !isValidIBAN(debtorIban))
    faults.push({
      pointer: '/debtorIban',
      detail: 'IBAN: the check digits do not fit, so a digit is wrong, missing or swapped',
      example: 'PT50 0002 0123 1234 5678 9015 4',
    });
  const holder = transferText(input.debtorName);
  if (!holder.ok)
    faults.push({
      pointer: '/debtorName',
      detail: `Account holder ${holder.why}`,
      example: 'Quernstone Clayworks',
    });
  if (faults.length) throw invalid(faults);
  if (approvalAbove !== present && role !== 'owner') {
    throw new Problem('forbidden', 'Only an owner changes the sum above which a second person approves', {
      errors: [
        {
          pointer: '/approvalAbove',
          detail: 'Second approval above: only an owner changes this sum',
          example: present === null ? '' : toDecimal(present, base),
        },
      ],
    });
  }
  const { bufferDays, clearing, promiseDays, debtorName } = input;
  save(app, actor, {
    version: input.version,
    fields: {
      bufferDays,
      clearing,
      promiseDays,
      debtorName: debtorName.trim(),
      minimumPayout,
      approvalAbove,
      debtorIban,
    },
    action: 'money-settings-changed',
  });
  if (approvalAbove !== present) tellOfApproval(app, actor, present, approvalAbove);
  return readSettings(app);
}

/** The sum above which a second person approves was changed, minor units of base; null = never. */
export const approvalSumChanged = announcement<number | null>();

/** A change of the second approval is told to every owner: it is what keeps one person from paying alone. */
function tellOfApproval(app: App, actor: Actor, from: number | null, to: number | null): void {
  const { base, name } = theProgramme(app);
  approvalSumChanged.tell(app, to);
  const say = (amount: number | null) =>
    amount === null ? 'never' : `above ${formatMoney({ amount, currency: base })}`;
  const by = namesOf(app, [actor.id])(actor.id);
  for (const owner of app.db
    .select()
    .from(staff)
    .where(and(eq(staff.role, 'owner'), eq(staff.active, true)))
    .all()) {
    queue(app, {
      to: owner.email,
      affiliate: null,
      kind: 'approval-changed',
      subject: 'The second approval of payout runs was changed',
      body: `Hello ${owner.name},\n\n${by} changed when a second person approves a payout run: ${say(from)} before, ${say(to)} from now on. Runs that are drafted already are judged by the stricter of the two.\n\n${app.address}/settings\n\n${name}`,
    });
  }
}
