import { join } from 'node:path';
import Database from 'better-sqlite3';
import { Client } from '../../scripts/journey/client';
import { listOnly } from '../helpers/listing';
import { data, kill, password, start } from './server';
import type { Shop } from './work';

/** A programme with a live product. */
export async function openProgramme(address: string, standins: string): Promise<Client> {
  listOnly(data, 300);
  await start();
  const desk = new Client(address);
  await desk.post('/api/v1/set-up', {
    merchant: 'Quernstone Clayworks',
    contact: 'hello@quernstone.example',
    currency: 'EUR',
    zone: 'Europe/Lisbon',
    owner: 'Inês',
    email: 'ines@quernstone.example',
    password,
    tryOut: true,
  });
  await desk.put('/api/v1/settings/money', {
    bufferDays: 0,
    clearing: 'automatic',
    minimumPayout: '0.00',
    approvalAbove: '',
    promiseDays: 14,
    debtorName: 'Quernstone Clayworks',
    debtorIban: 'PT50000201231234567890154',
    version: 1,
  });
  const product = (
    await desk.post<{ id: string; version: number }>('/api/v1/products', {
      code: 'POT-1',
      name: 'Pot',
      description: 'x',
      currency: 'EUR',
      price: '100.00',
      refundDays: 0,
      salesPage: `${standins}/p/POT-1`,
      rewardKind: 'percent',
      reward: '12.5',
    })
  ).body;
  await desk.post(`/api/v1/products/${product.id}/state`, { state: 'live', version: product.version });
  return desk;
}

/** Affiliates who are paid at sale, their links, and the key of the shop. */
export async function openShop(desk: Client, address: string): Promise<Shop> {
  const shop: Shop = {
    key: (
      await desk.post<{ id: string; secret: string }>(
        `/api/v1/connection/keys/${(await desk.post<{ id: string }>('/api/v1/connection/keys', { label: 'Shop' })).body.id}/secret`,
      )
    ).body,
    visits: [],
  };
  for (const name of ['ann', 'bob', 'cem', 'dee']) {
    await desk.post('/api/v1/join', {
      name,
      email: `${name}@potters.example`,
      country: 'PT',
      address: '',
      sites: ['potters.example'],
      channels: '',
      note: `${name} throws`,
      product: '',
    });
    const { id } = (await desk.get<{ rows: { id: string }[] }>('/api/v1/applications')).body.rows[0]!;
    await desk.post('/api/v1/applications/decide', {
      ids: [id],
      decision: 'approve',
      timing: 'at-sale',
      reason: '',
      message: false,
    });
  }
  await kill();
  const db = new Database(join(data, 'gravenel.sqlite'));
  db.exec(
    "UPDATE affiliates SET payee_holder = name, payee_iban = 'GB33BUKB20201555555555', payee_address = 'Kiln Lane 4'",
  );
  const codes = db.prepare('SELECT code FROM links').pluck().all() as string[];
  db.close();
  await start();
  for (const code of codes)
    shop.visits.push(
      new URL((await new Client(address).get(`/go/${code}`)).headers.get('location')!).searchParams.get(
        'gvn',
      )!,
    );
  await kill();

  return shop;
}
