import { toDecimal } from '../../src/core/money/amount';
import { Client } from './client';

interface Row {
  step: string;
  what: string;
  expected: string;
  found: string;
}
interface Money {
  amount: number;
  currency: string;
}
interface Balances {
  held: Money;
  cleared: Money;
  inRun: Money;
  paid: Money;
}
interface Message {
  to: string;
  subject: string;
  body: string;
}
interface Run {
  id: string;
  state: string;
  version: number;
  total: Money;
  payments: { id: string; name: string; amount: Money; state: string }[];
  leftOut: { name: string; amount: Money; why: string }[];
}

const shown = (m: Money) => `${toDecimal(m.amount, m.currency)} ${m.currency}`;
const password = 'clay on the wheel at dawn';

/**
 * The main job from set-up to a netted balance.
 * @returns how many figures differ from the ones written by hand
 */
export async function play(address: string, standins: string): Promise<number> {
  const rows: Row[] = [];
  try {
    await journey(address, standins, rows);
  } catch (fault) {
    // what was reached is printed before the fault, so that the first difference is seen
    print(rows);
    throw fault;
  }
  return print(rows);
}

async function journey(address: string, standins: string, rows: Row[]): Promise<void> {
  let step = '';
  const check = (what: string, found: unknown, expected: unknown) =>
    rows.push({ step, what, expected: String(expected), found: String(found) });
  const desk = new Client(address);
  const shop = new Client(standins);
  const portal = new Client(address);
  const visitor = new Client(address);
  const until = async <T>(what: string, probe: () => Promise<T | undefined>): Promise<T> => {
    for (let tries = 0; tries < 60; tries += 1) {
      const found = await probe();
      if (found !== undefined) return found;
      await new Promise((r) => setTimeout(r, 250));
    }
    throw new Error(`${what} did not happen within 15 seconds`);
  };
  const mail = (to: string, subject: RegExp) =>
    until(`A message to ${to}`, async () =>
      (await shop.get<Message[]>('/mailroom/messages.json')).body.find(
        (m) => m.to === to && subject.test(m.subject),
      ),
    );
  const balances = async (): Promise<Balances> =>
    (await portal.get<{ balances: Balances }>('/api/v1/portal/home')).body.balances;
  const checkBalances = async (held: string, cleared: string, inRun: string, paid: string) => {
    const b = await balances();
    check(
      'held · cleared · in run · paid',
      [b.held, b.cleared, b.inRun, b.paid].map((m) => toDecimal(m.amount, m.currency)).join(' · '),
      [held, cleared, inRun, paid].join(' · '),
    );
  };
  const forward = async (by: string) =>
    (await desk.post<{ cleared: number }>('/api/v1/clock', { by })).body.cleared;
  const buy = async (code: string, quantity: number, link: string): Promise<string> => {
    const led = await visitor.get(link);
    const landing = led.headers.get('location') ?? '';
    const visit = new URL(landing).searchParams.get('gvn') ?? '';
    const paid = await shop.form(`/checkout/${code}`, {
      gvn: visit,
      quantity: String(quantity),
      buyer: 'buyer@potlovers.example',
      card: '1000 2000 3000 4000',
    });
    return (paid.headers.get('location') ?? '').split('/').pop() ?? '';
  };
  const answered = async (reference: string): Promise<string> =>
    (await shop.get(`/orders/${reference}`)).text;

  step = 'Set up';
  check('before', (await desk.get('/api/v1/session')).body.state, 'set-up');
  const setUp = await desk.post('/api/v1/set-up', {
    merchant: 'Quernstone Clayworks',
    contact: 'hello@quernstone.example',
    currency: 'EUR',
    zone: 'Europe/Lisbon',
    owner: 'Inês Falcão',
    email: 'ines@quernstone.example',
    password,
    tryOut: true,
  });
  check('after', setUp.body.state, 'signed-in');
  const settings = (await desk.get<{ version: number }>('/api/v1/settings')).body;
  await desk.put('/api/v1/settings/money', {
    bufferDays: 3,
    clearing: 'automatic',
    minimumPayout: '25.00',
    approvalAbove: '',
    promiseDays: 14,
    debtorName: 'Quernstone Clayworks',
    debtorIban: 'PT50 0002 0123 1234 5678 9015 4',
    version: settings.version,
  });

  step = 'Product';
  const made = await desk.post<{ id: string; version: number; rewardText: string }>('/api/v1/products', {
    code: 'WHEEL-1',
    name: 'Table-top wheel kit',
    description: 'A wheel, a splash pan and a bat.',
    currency: 'EUR',
    price: '199.00',
    refundDays: 14,
    salesPage: `${standins}/p/WHEEL-1`,
    rewardKind: 'percent',
    reward: '12',
  });
  check('commission', made.body.rewardText, '12 %');
  const live = await desk.post<{ state: string }>(`/api/v1/products/${made.body.id}/state`, {
    state: 'live',
    version: made.body.version,
  });
  check('state', live.body.state, 'live');
  const newKey = await desk.post<{ id: string }>('/api/v1/connection/keys', { label: 'Shop' });
  const key = await desk.post<{ id: string; secret: string }>(
    `/api/v1/connection/keys/${newKey.body.id}/secret`,
  );
  await shop.form('/switches', { key: key.body.id, secret: key.body.secret });
  await shop.form('/shelf', {
    code: 'WHEEL-1',
    name: 'Table-top wheel kit',
    price: '199.00',
    currency: 'EUR',
  });

  step = 'Join';
  const application = {
    name: 'Loam Letters',
    email: 'mara@loamletters.example',
    country: 'PT',
    address: 'Rua do Forno 4, Barrancos',
    sites: ['loamletters.example'],
    channels: 'newsletter',
    note: 'A letter a week for people who throw pots at home.',
    product: 'WHEEL-1',
  };
  check('first time', (await visitor.post('/api/v1/join', application)).body.outcome, 'received');
  check('second time', (await visitor.post('/api/v1/join', application)).body.outcome, 'received');
  const queue = await desk.get<{ rows: { id: string }[] }>('/api/v1/applications');
  check('waiting', queue.body.rows.length, 1);
  await desk.post('/api/v1/applications/decide', {
    ids: queue.body.rows.map((r) => r.id),
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
  });
  const welcome = await mail('mara@loamletters.example', /Welcome/);
  const token = /token=([\w-]+)/.exec(welcome.body)?.[1] ?? '';
  check(
    'password set',
    (await portal.post('/api/v1/portal/password', { token, password })).body.state,
    'signed-in',
  );
  await portal.put('/api/v1/portal/payout-details', {
    holder: 'Mara Lindqvist-Okello',
    iban: 'GB33BUKB20201555555555',
    address: 'Rua do Forno 4, Barrancos',
    version: (await portal.get<{ version: number }>('/api/v1/portal/payout-details')).body.version,
    password,
  });
  const home = await portal.get<{ links: { link: string }[] }>('/api/v1/portal/home');
  const link = home.body.links[0]?.link ?? '';

  step = 'Sale';
  const first = await buy('WHEEL-1', 1, link);
  check('answered', /"outcome":"recorded"|&#34;recorded&#34;/.test(await answered(first)), true);
  // 12 % of 199.00 = 23.88
  await checkBalances('23.88', '0.00', '0.00', '0.00');
  await shop.form('/switches', { 'shop-twice': 'on' });
  const second = await buy('WHEEL-1', 2, link);
  await shop.form('/switches', {});
  // 12 % of 398.00 = 47.76, reported twice, counted once: 23.88 + 47.76
  await checkBalances('71.64', '0.00', '0.00', '0.00');
  check('the repeat was', /already-recorded/.test(await answered(second)), true);

  step = 'Refund, held';
  await shop.form(`/orders/${second}/refund`, { amount: '100.00', kind: 'refund' });
  // 12 % of 298.00 = 35.76, so 12.00 is taken back: 71.64 − 12.00
  await checkBalances('59.64', '0.00', '0.00', '0.00');

  step = 'Clearing';
  check('cleared in a week', await forward('week'), 0);
  check('cleared in two more', (await forward('week')) + (await forward('week')), 2);
  await checkBalances('0.00', '59.64', '0.00', '0.00');

  step = 'Payout run';
  const today = new Date((await desk.get<{ now: number }>('/api/v1/clock')).body.now)
    .toISOString()
    .slice(0, 10);
  const draft = await desk.post<Run>('/api/v1/payouts', { cutoff: today, minimum: '25.00' });
  check(
    'proposed',
    draft.body.payments.map((p) => `${p.name} ${shown(p.amount)}`).join(', '),
    'Loam Letters 59.64 EUR',
  );
  const approved = await desk.post<Run>(`/api/v1/payouts/${draft.body.id}/approve`, {
    version: draft.body.version,
    total: draft.body.total.amount,
  });
  check('approved', `${approved.body.state} ${shown(approved.body.total)}`, 'approved 59.64 EUR');
  await checkBalances('0.00', '0.00', '59.64', '0.00');
  const sent = await desk.post<Run>(`/api/v1/payouts/${draft.body.id}/send`, {
    version: approved.body.version,
  });
  check('sent', sent.body.state, 'sent');
  check(
    'sent twice',
    (await desk.post(`/api/v1/payouts/${draft.body.id}/send`, { version: approved.body.version })).status,
    409,
  );
  const file = await desk.get(`/api/v1/payouts/${draft.body.id}/file.xml`);
  check('file’s sum', /<CtrlSum>([\d.]+)<\/CtrlSum>/.exec(file.text)?.[1], '59.64');
  await desk.post(`/api/v1/payouts/${draft.body.id}/deliver`, { version: sent.body.version });
  await desk.post(`/api/v1/payouts/${draft.body.id}/deliver`, { version: sent.body.version });
  const files =
    await shop.get<{ id: string; lines: { endToEnd: string; amount: string }[] }[]>('/bank/files.json');
  check('files at the bank', files.body.length, 1);
  check('the bank’s line', files.body[0]?.lines.map((l) => l.amount).join(), '59.64');

  step = 'Rejected line';
  await shop.form(`/bank/files/${files.body[0]!.id}/answer`, { [files.body[0]!.lines[0]!.endToEnd]: 'AC04' });
  check('read', (await desk.post('/api/v1/payouts/collect')).body.said, '1 line read: 1 failed');
  check(
    'read again',
    (await desk.post('/api/v1/payouts/collect')).body.said,
    'The bank has no new status report',
  );
  await checkBalances('0.00', '59.64', '0.00', '0.00');

  step = 'Second run';
  const again = await desk.post<Run>('/api/v1/payouts', { cutoff: today, minimum: '25.00' });
  const steps = await desk.post<Run>(`/api/v1/payouts/${again.body.id}/approve`, {
    version: again.body.version,
    total: again.body.total.amount,
  });
  const gone = await desk.post<Run>(`/api/v1/payouts/${again.body.id}/send`, { version: steps.body.version });
  await desk.post(`/api/v1/payouts/${again.body.id}/deliver`, { version: gone.body.version });
  const newest = (await shop.get<{ id: string }[]>('/bank/files.json')).body.at(-1)!;
  await shop.form(`/bank/files/${newest.id}/answer`, {});
  check('read', (await desk.post('/api/v1/payouts/collect')).body.said, '1 line read: 1 settled');
  await checkBalances('0.00', '0.00', '0.00', '59.64');
  const settled = await desk.get<Run>(`/api/v1/payouts/${again.body.id}`);
  check('run', settled.body.state, 'settled');
  const csv = await portal.get(`/api/v1/portal/payments/${settled.body.payments[0]!.id}/statement.csv`);
  const amounts = csv.text
    .trim()
    .split('\r\n')
    .slice(1)
    .map((l) => l.split(',')[4]);
  check('statement', amounts.join(' + '), '23.88 + 35.76 + 59.64');

  step = 'Refund, paid';
  await shop.form(`/orders/${first}/refund`, { amount: '', kind: 'refund' });
  // the whole 23.88 is taken back after payment: the balance falls below zero
  await checkBalances('0.00', '-23.88', '0.00', '59.64');
  const third = await buy('WHEEL-1', 3, link);
  check('third order', third, 'Q-10003');
  await forward('month');
  // 12 % of 597.00 = 71.64; 71.64 − 23.88 = 47.76
  await checkBalances('0.00', '47.76', '0.00', '59.64');
  const later = new Date((await desk.get<{ now: number }>('/api/v1/clock')).body.now)
    .toISOString()
    .slice(0, 10);
  const netted = await desk.post<Run>('/api/v1/payouts', { cutoff: later, minimum: '25.00' });
  check('proposed, netted', netted.body.payments.map((p) => shown(p.amount)).join(), '47.76 EUR');

  step = 'Ledger';
  const ledger = await desk.get<{ whole: boolean; accounts: { account: string; balance: Money }[] }>(
    '/api/v1/ledger',
  );
  check('balances', ledger.body.whole, true);
  // granted 23.88 + 47.76 + 71.64 = 143.28, taken back 12.00 + 23.88: expense 107.40 = cleared 47.76 + bank 59.64
  check(
    'expense · cleared · bank',
    ['expense', 'cleared', 'bank']
      .map((a) => toDecimal(ledger.body.accounts.find((x) => x.account === a)!.balance.amount, 'EUR'))
      .join(' · '),
    '107.40 · 47.76 · 59.64',
  );
}

function print(rows: Row[]): number {
  const widths = (['step', 'what', 'expected', 'found'] as const).map(
    (k) => [k, Math.max(k.length, ...rows.map((r) => r[k].length))] as const,
  );
  const line = (r: Row, mark: string) => `${mark} ${widths.map(([k, w]) => r[k].padEnd(w)).join('  ')}`;
  let before = '';
  let differences = 0;
  process.stdout.write(
    `${line({ step: 'step', what: 'what', expected: 'expected', found: 'found' }, ' ')}\n`,
  );
  for (const row of rows) {
    const same = row.expected === row.found;
    if (!same) differences += 1;
    process.stdout.write(
      `${line({ ...row, step: row.step === before ? '' : row.step }, same ? ' ' : '✗')}\n`,
    );
    before = row.step;
  }
  process.stdout.write(`\n${rows.length} figures, ${differences} differ\n`);
  return differences;
}
