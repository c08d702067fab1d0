import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import { endpoints } from '../../src/contract';
import type { AnyEndpoint } from '../../src/contract/endpoint';
import { idOf } from '../../src/contract/shared';
import { prefixes, type IdKind } from '../../src/core/text/id';
import { newId } from '../../src/server/ground/db/ids';
import { faultsOf } from '../../src/server/ground/http/validate';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let owner: Client;
let mara: Client;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  mara = (await s.affiliate('Mara')).client;
});
afterAll(() => s.close());

const kinds = Object.keys(prefixes) as IdKind[];

it('every kind has a prefix of its own, and ids as they are made', () => {
  expect(new Set(Object.values(prefixes)).size).toBe(kinds.length);
  for (const kind of kinds) {
    expect(faultsOf(idOf(kind), newId(kind))).toEqual([]);
    const other = kinds.find((k) => k !== kind)!;
    expect(faultsOf(idOf(kind), newId(other)), `${other} for ${kind}`).toHaveLength(1);
  }
});

/** The schema of the id in a call’s path; undefined where it has none, or one of its own kind. */
const idIn = (end: AnyEndpoint) =>
  (end.params as { properties: Record<string, { title?: string; pattern?: string } | undefined> }).properties
    .id;

it.each(endpoints.filter(([, end]) => idIn(end)?.title === 'Id'))(
  'an id of another kind is refused where %s asks for one',
  async (_, end) => {
    const pattern = new RegExp(idIn(end)!.pattern!);
    const other = kinds.find((kind) => !pattern.test(newId(kind)))!;
    const path = end.path.replaceAll(/:\w+/g, () => newId(other));
    const answer = await (end.access === 'affiliate' ? mara : owner).send(end.method, path);
    expect([answer.status, answer.text]).toEqual([422, expect.stringContaining('"/id"')]);
  },
);
