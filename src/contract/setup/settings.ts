import { Type } from '@sinclair/typebox';
import { roles } from '../../core/access/lists';
import { clearings } from '../../core/ledger/timing';
import { shareBases } from '../../core/terms/lists';
import { endpoint, owning, paying, readers } from '../endpoint';
import { password } from '../session';
import {
  byId,
  closed,
  decimal,
  email,
  idOf,
  Moment,
  nullable,
  oneOf,
  paragraphs,
  Version,
  webAddress,
  wholeNumber,
  words,
  wordsRequired,
} from '../shared';
import { largestPicture } from './products';

const programmeFields = {
  name: wordsRequired('Merchant name', 120, 'Quernstone Clayworks'),
  contact: email('Contact address'),
  intro: paragraphs('Introduction', 2000, {
    example: 'Tools and courses for potters. Each sale of the wheel pays {rate WHEEL-1}.',
  }),
  summary: paragraphs('Summary', 300, {
    example: 'Tools, kilns and courses for people who make pots at home.',
  }),
  rate: decimal('Programme commission', '8'),
  windowDays: wholeNumber('Attribution window', 1, 365, 30),
  logDays: Type.Optional(wholeNumber('Reports are kept for', 30, 3650, 180)),
  landingHosts: Type.Array(
    words('Host', 253, {
      least: 1,
      example: 'shop.quernstone.example',
      pattern: '^[A-Za-z0-9.-]+(:\\d{1,5})?$',
    }),
    { maxItems: 50, title: 'Landing hosts' },
  ),
};
const moneyFields = {
  bufferDays: wholeNumber('Buffer after the refund window', 0, 90, 3),
  clearing: oneOf('Clearing', clearings),
  minimumPayout: decimal('Minimum payout', '25.00'),
  approvalAbove: decimal('Second approval above', '5000.00'),
  promiseDays: wholeNumber('Promised within', 1, 60, 14),
  debtorName: words('Account holder', 70),
  debtorIban: words('IBAN', 50, { example: 'PT50 0002 0123 1234 5678 9015 4' }),
};
const termsFields = {
  noticeWeeks: wholeNumber('Notice of cuts', 1, 4, 2),
  lowEarning: decimal('Too little a sale', '2.00'),
  feePercent: decimal('Payment fee, percent', '1.4'),
  feeFixed: decimal('Payment fee, fixed', '0.25'),
  clicksPerAddress: Type.Optional(decimal('Paid clicks of one network address', '3')),
  referralPercent: decimal('Referral share', '10'),
  referralOf: oneOf('Percent of', shareBases),
  referralMonths: words('Months', 3, { example: '12', pattern: '^\\d*$' }),
};
const buyerFields = {
  brand: words('Name that buyers read', 80, { example: 'Quernstone Clayworks' }),
  supportAddress: words('Support address', 254, {
    example: 'help@quernstone.example',
    pattern: '^\\s*[^\\s@]+@[^\\s@]+\\.[^\\s@]{2,}\\s*$',
  }),
  supportPage: webAddress('Support page', 'https://shop.quernstone.example/help', 0),
  supportPhone: words('Support telephone', 40, { example: '+351 285 000 120', pattern: '^[+0-9 ()./-]*$' }),
};
const recruitingFields = {
  categories: Type.Array(words('Category', 60, { least: 1, example: 'Crafts and studio supplies' }), {
    maxItems: 4,
    title: 'Categories',
  }),
  vouchedIn: Type.Boolean({ title: 'Let in whom the registry vouches for' }),
  refundLine: words('Refund rate that is too high', 10, { least: 1, example: '12' }),
  inviteDays: wholeNumber('Days an invitation stands', 3, 90, 30),
  messagesPerDay: wholeNumber('Messages a day to people who have not joined', 0, 1000, 50),
};
export const ProgrammeOut = closed({
  ...programmeFields,
  ...moneyFields,
  ...termsFields,
  ...recruitingFields,
  logo: nullable(Type.String()),
  noticeKept: nullable(
    closed({
      weeks: Type.Integer({ description: 'weeks of the longer notice' }),
      until: Moment,
    }),
  ),
  live: Type.Record(Type.String(), Type.String(), {
    description: 'what may stand in braces in a text, and what it is filled with now',
  }),
  brand: Type.String(),
  supportAddress: Type.String(),
  supportPage: Type.String(),
  supportPhone: Type.String(),
  base: Type.String(),
  zone: Type.String(),
  version: Version,
});
export const readProgramme = endpoint('GET', '/api/v1/settings', {
  summary: 'Settings',
  access: readers,
  reply: ProgrammeOut,
});
export const editProgramme = endpoint('PUT', '/api/v1/settings/programme', {
  summary: 'Edit the programme',
  access: ['owner', 'manager'],
  body: closed({ ...programmeFields, version: Version }),
  reply: ProgrammeOut,
  once: true,
});
export const editMoney = endpoint('PUT', '/api/v1/settings/money', {
  summary: 'Edit how commissions clear and are paid',
  access: paying,
  body: closed({ ...moneyFields, version: Version }),
  reply: ProgrammeOut,
  once: true,
});

export const editTermsSettings = endpoint('PUT', '/api/v1/settings/terms', {
  summary: 'Edit the notice for cuts of rates, and what a sale costs',
  access: ['owner', 'manager'],
  body: closed({ ...termsFields, version: Version }),
  reply: ProgrammeOut,
  once: true,
});

export const editRecruiting = endpoint('PUT', '/api/v1/settings/recruiting', {
  summary: 'Edit the categories, and how applicants and prospects are dealt with',
  access: ['owner', 'manager'],
  body: closed({ ...recruitingFields, version: Version }),
  reply: ProgrammeOut,
  once: true,
});

export const editBuyerContacts = endpoint('PUT', '/api/v1/settings/buyers', {
  summary: 'Edit what buyers read: name and support contacts',
  access: ['owner', 'manager'],
  body: closed({ ...buyerFields, version: Version }),
  reply: ProgrammeOut,
  once: true,
});

export const setLogo = endpoint('PUT', '/api/v1/settings/logo', {
  summary: 'Upload the logo (JPEG, GIF or PNG up to 4 MB) as the body',
  access: ['owner', 'manager'],
  query: closed({ name: words('File name', 200, { least: 1, example: 'logo.png' }) }),
  upload: largestPicture,
  reply: ProgrammeOut,
});
export const dropLogo = endpoint('POST', '/api/v1/settings/logo/remove', {
  summary: 'Go without a logo',
  access: ['owner', 'manager'],
  reply: ProgrammeOut,
  once: true,
});

const ExchangeRow = closed({ currency: Type.String(), day: Type.String(), rate: Type.String() });
export const listExchange = endpoint('GET', '/api/v1/settings/exchange', {
  summary: 'The latest exchange rate of each currency',
  access: readers,
  reply: closed({ rows: Type.Array(ExchangeRow) }),
});
export const setExchange = endpoint('PUT', '/api/v1/settings/exchange', {
  summary: 'Set how much of a currency one unit of the base currency buys, from a day on',
  access: paying,
  once: true,
  reply: listExchange.reply,
  body: closed({
    currency: words('Currency', 3, { least: 3, example: 'JPY' }),
    day: words('From', 10, { least: 10, example: '2027-03-12', pattern: '^\\d{4}-\\d{2}-\\d{2}$' }),
    rate: decimal('Rate', '160.25'),
  }),
});

const StaffRow = closed({
  id: idOf('staff'),
  name: Type.String(),
  email: Type.String(),
  role: oneOf('Role', roles),
  active: Type.Boolean(),
  createdAt: Moment,
  version: Version,
});
export const listStaff = endpoint('GET', '/api/v1/staff', {
  summary: 'Staff and roles',
  access: readers,
  reply: closed({ rows: Type.Array(StaffRow) }),
});
export const addStaff = endpoint('POST', '/api/v1/staff', {
  summary: 'Add a person',
  access: owning,
  once: true,
  reply: StaffRow,
  body: closed({
    name: wordsRequired('Name', 120, 'Rui Sardinha'),
    email: email(),
    role: oneOf('Role', roles),
    password,
  }),
});
export const editStaff = endpoint('PUT', '/api/v1/staff/:id', {
  summary: 'Change a role, or close an account',
  access: owning,
  params: byId('staff'),
  once: true,
  reply: StaffRow,
  body: closed({ role: oneOf('Role', roles), active: Type.Boolean(), version: Version }),
});
export const readClock = endpoint('GET', '/api/v1/clock', {
  summary: 'The programme’s date',
  access: 'open',
  reply: closed({ now: Moment, demo: Type.Boolean() }),
});
export const moveClock = endpoint('POST', '/api/v1/clock', {
  summary: 'Move the demo clock on',
  access: ['owner', 'manager', 'finance'],
  body: closed({ by: oneOf('By', ['day', 'week', 'month']) }),
  once: true,
  reply: closed({ now: Moment, demo: Type.Boolean(), cleared: Type.Integer() }),
});
