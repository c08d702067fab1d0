import type { Request, Response } from 'express';
import { readFeeds, renewFeeds as renewContract } from '../../../contract/portal/feeds';
import type { Id } from '../../../core/text/id';
import { asAffiliate, type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { perAddress } from '../../ground/http/limits';
import { Problem } from '../../ground/http/problem';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { hash } from '../../ground/seal';
import { linkMade, linkOf } from '../../registers/people/links';
import { programmeOrNull } from '../../registers/programme/record';
import { couponsFor } from '../links/own-coupons';
import type { FeedForm, FeedName } from './content';
import { feedsOf, ownerOf, renewFeeds } from './keys';
import { feedReadings } from './readings';

/** Feeds that one address may fetch in ten minutes: programs ask every few. */
const fetched = 600;

/** So long a tag is believed without writing the feed again; what was changed meanwhile, or ends, is seen at once. */
const believed = 60_000;
const mostTags = 5_000;

interface Tag {
  tag: string;
  stamp: number;
  until: number;
}

const tags = perApp(() => new Map<string, Tag>());

/** The next moment at which one of an affiliate's coupons ends: its feed reads otherwise from then on. */
function nextEnd(app: App, affiliate: Id<'affiliate'> | null): number {
  if (affiliate === null) return Infinity;
  return Math.min(...couponsFor(app, affiliate).map((row) => row.until ?? Infinity), Infinity);
}

/** The links that a feed names are made before it is read: the thread that reads it writes nothing. */
function makeLinks(app: App, affiliate: Id<'affiliate'>): void {
  const without = couponsFor(app, affiliate).filter((row) => !linkOf(app, affiliate, { coupon: row.id }));
  if (without.length)
    app.transaction(() => without.forEach((row) => linkMade(app, affiliate, { coupon: row.id })));
}

const notHere = () => new Problem('not-found', 'There is no feed at this address, or it was renewed');

interface Asked {
  name: FeedName;
  form: FeedForm;
  affiliate: Id<'affiliate'> | null;
}

/** Answers with the feed, or that it reads as it did. */
async function answer(app: App, req: Request, res: Response, asked: Asked): Promise<void> {
  const key = `${asked.affiliate ?? 'everybody'} ${asked.name}.${asked.form}`;
  const known = tags(app).get(key);
  const now = app.clock.now();
  const told = req.get('if-none-match');
  res.set({ 'cache-control': 'private, max-age=60', 'x-content-type-options': 'nosniff' });
  if (known && told === known.tag && known.stamp === app.kept.stamp && now < known.until)
    return void res.set('etag', known.tag).status(304).end();
  if (asked.name === 'coupons' && asked.affiliate) makeLinks(app, asked.affiliate);
  const { stamp } = app.kept;
  const { type, text } = await app.reader.ask(feedReadings.feed, {
    ...asked,
    self: app.address + req.path,
  });
  const tag = `"${hash(text).slice(0, 32)}"`;
  if (tags(app).size >= mostTags) tags(app).clear();
  tags(app).set(key, { tag, stamp, until: Math.min(now + believed, nextEnd(app, asked.affiliate)) });
  res.set('etag', tag);
  if (told === tag) return void res.status(304).end();
  return void res.type(type).send(text);
}

const ownNames = /^(coupons|products)\.(rss|json|csv)$/;
const openNames = /^offers\.(rss|json)$/;

/** Feeds: each affiliate's by its secret address, and that of the offers for everybody. */
export function feedRoutes(site: Site): void {
  const { server, app } = site;
  server.get('/feeds/:name', perAddress(fetched), async (req, res) => {
    const [, form] = openNames.exec(String(req.params.name)) ?? [];
    if (!form || !programmeOrNull(app)) throw notHere();
    await answer(app, req, res, { name: 'offers', form: form as FeedForm, affiliate: null });
  });
  server.get('/feeds/:secret/:name', perAddress(fetched), async (req, res) => {
    const [, name, form] = ownNames.exec(String(req.params.name)) ?? [];
    if (!name || !form || (form === 'csv' && name !== 'products')) throw notHere();
    const affiliate = programmeOrNull(app) ? ownerOf(app, String(req.params.secret)) : null;
    if (!affiliate) throw notHere();
    await answer(app, req, res, { name: name as FeedName, form: form as FeedForm, affiliate });
  });
  serve(site, readFeeds, ({ actor }) =>
    feedsOf(app, asAffiliate(actor), 'looking' in actor && actor.looking === true),
  );
  serve(site, renewContract, ({ actor }) => renewFeeds(app, actor));
}
