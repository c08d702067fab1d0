import { afterAll, beforeAll } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { everyId, type Every } from '../../helpers/every';
import { startServer, type TestServer } from '../../helpers/server';

export let s: TestServer;
export let every: Every;

/** An id of each kind that nothing has. */
export const nothing = (prefix: string) => `${prefix}_0nobodyhasthis`;

/** A server with one of everything, of which the acts of these tests change nothing. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    every = await everyId(s);
  }, 120_000);
  afterAll(() => s.close());
}

interface Fault {
  detail: string;
  errors?: { pointer: string; detail: string }[];
}

/** What a call is answered with where it is refused, in one line: its status, and the fields at fault or the sentence. */
async function refusal(client: Client, method: string, path: string, body?: object): Promise<string> {
  const answer = await client.send<Fault>(method, path, body);
  if (answer.status < 400) return `${answer.status} done`;
  const { detail, errors = [] } = answer.body;
  const words = errors.length ? errors.map((e) => `${e.pointer}: ${e.detail}`).join(' | ') : detail;
  // how late it is depends on how busy the machine was
  return `${answer.status} ${words}`.replace(/on 12 Mar 2027, \d\d:\d\d/, 'at that moment');
}

/** A call, what it is sent, and how it is refused; “:products” and the like stand for an id that exists. */
export type Refused = [call: string, body: object | undefined, answer: string];

const filled = (text: string) =>
  text.replace(/:([a-z]+)/g, (whole, name: string) => every.ids[name] ?? whole);

async function said(client: Client, call: string, body: object | undefined): Promise<string> {
  const [method, path] = call.split(' ');
  const sent = body && (JSON.parse(filled(JSON.stringify(body))) as object);
  return refusal(client, method!, `/api/v1/${filled(path!)}`, sent);
}

/** How the owner is refused. */
export const says = async (call: string, body?: object) => said(await s.as('owner'), call, body);

/** How the affiliate is refused to whom everything belongs. */
export const saysInPortal = (call: string, body?: object) => said(every.mine.client, call, body);
