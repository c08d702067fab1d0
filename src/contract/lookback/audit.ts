import { Type } from '@sinclair/typebox';
import { endpoint, readers } from '../endpoint';
import { HistoryRow } from '../recruit/affiliates';
import { closed, filtered, page, words } from '../shared';

export const listAudit = endpoint('GET', '/api/v1/audit', {
  summary: 'Who did what, when, before and after',
  access: readers,
  query: filtered({ subject: Type.Optional(words('Subject', 60)) }),
  reply: page(closed({ ...HistoryRow.properties, subject: Type.String() })),
});
