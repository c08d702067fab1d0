import type { Act } from './acts';
import type { Stage } from './stage';

const password = 'clay on the wheel at dawn';

async function setUp(stage: Stage): Promise<void> {
  const { desk } = stage;
  stage.check('before', (await desk.get('/api/v1/session')).body.state, 'set-up');
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
  stage.check('after', setUp.body.state, 'signed-in');
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
}

async function sellsWheel(stage: Stage): Promise<void> {
  const { desk, shop } = stage;
  const made = await desk.post<{ id: string; version: number; rewardText: string }>('/api/v1/products', {
    code: 'WHEEL-1',
    name: 'Table-top wheel kit',
    description: 'A wheel, a splash pan and a bat.',
    currency: 'EUR',
    price: '199.00',
    refundDays: 14,
    salesPage: `${stage.standins}/p/WHEEL-1`,
    rewardKind: 'percent',
    reward: '12',
  });
  stage.check('commission', made.body.rewardText, '12 %');
  const live = await desk.post<{ state: string }>(`/api/v1/products/${made.body.id}/state`, {
    state: 'live',
    version: made.body.version,
  });
  stage.check('state', live.body.state, 'live');
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
}

async function joins(stage: Stage): Promise<void> {
  const { desk, portal, visitor } = stage;
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
  stage.check('first time', (await visitor.post('/api/v1/join', application)).body.outcome, 'received');
  stage.check('second time', (await visitor.post('/api/v1/join', application)).body.outcome, 'received');
  const queue = await desk.get<{ rows: { id: string }[] }>('/api/v1/applications');
  stage.check('waiting', queue.body.rows.length, 1);
  await desk.post('/api/v1/applications/decide', {
    ids: queue.body.rows.map((r) => r.id),
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
  });
  const welcome = await stage.mail('mara@loamletters.example', /Welcome/);
  const token = /token=([\w-]+)/.exec(welcome.body)?.[1] ?? '';
  stage.check(
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
  stage.link = home.body.links[0]?.link ?? '';
}

export const beginning: readonly Act[] = [
  ['Set up', setUp],
  ['Product', sellsWheel],
  ['Join', joins],
];
