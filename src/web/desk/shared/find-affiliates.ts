import { listAffiliates } from '../../../contract/recruit/roster';
import { call } from '../../kit/api';

export async function findAffiliates(q: string) {
  return (await call(listAffiliates, { query: { ...(q ? { q } : {}), limit: 12 } })).rows.map((a) => ({
    id: a.id,
    name: a.name,
    sub: a.handle,
  }));
}
