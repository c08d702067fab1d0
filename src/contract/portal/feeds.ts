import { Type } from '@sinclair/typebox';
import { endpoint } from '../endpoint';
import { closed, nullable } from '../shared';

const Addresses = closed({
  own: nullable(
    closed({
      coupons: closed({ rss: Type.String(), json: Type.String() }),
      products: closed({ rss: Type.String(), csv: Type.String(), json: Type.String() }),
    }),
  ),
  offers: closed({ rss: Type.String(), json: Type.String() }),
});
export type OwnFeeds = (typeof Addresses)['static'];

export const readFeeds = endpoint('GET', '/api/v1/portal/feeds', {
  summary: 'The addresses of one’s own feeds, where there are any',
  access: 'affiliate',
  reply: Addresses,
});
export const renewFeeds = endpoint('POST', '/api/v1/portal/feeds', {
  summary: 'Make the addresses of one’s feeds, or make them anew: those of before end',
  access: 'affiliate',
  once: true,
  reply: Addresses,
});
