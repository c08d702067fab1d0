import { Type } from '@sinclair/typebox';
import { endpoint } from '../endpoint';
import { closed, filtered, Moment, page, webAddress, words } from '../shared';

const PageLink = closed({
  code: Type.String(),
  product: closed({ code: Type.String(), name: Type.String() }),
  page: Type.String(),
  link: Type.String(),
  at: Moment,
});
export type PageLink = (typeof PageLink)['static'];
export const listPageLinks = endpoint('GET', '/api/v1/portal/links', {
  summary: 'Own links to pages of one’s own choice, newest first',
  access: 'affiliate',
  query: filtered({}),
  reply: page(PageLink),
});
export const makePageLink = endpoint('POST', '/api/v1/portal/links', {
  summary: 'Make one’s own link to a page of the shop; asked for twice it is the same',
  access: 'affiliate',
  body: closed({
    product: words('Product', 32, { least: 1, example: 'WHEEL-1' }),
    page: webAddress('Page', 'https://shop.quernstone.example/firing-log'),
  }),
  reply: PageLink,
});
export const surveyPageLinks = endpoint('GET', '/api/v1/portal/links/survey', {
  summary: 'For what one can make links to pages, and on which hosts',
  access: 'affiliate',
  reply: closed({
    products: Type.Array(closed({ code: Type.String(), name: Type.String() })),
    hosts: Type.Array(Type.String()),
  }),
});
