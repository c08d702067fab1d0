import { describe, expect, it } from 'vitest';
import { jsonFeed, rfc822, type Feed, type FeedItem } from './feed';

const at = Date.parse('2027-03-12T10:00:00Z');
const item: FeedItem = {
  id: 'https://desk.quernstone.example/news/1',
  title: 'A wheel that fits on a kitchen table',
  url: 'https://shop.quernstone.example/p/WHEEL-1',
  text: 'New, and quiet.',
  at,
};
const feed = (items: FeedItem[], more: Partial<Feed> = {}) =>
  jsonFeed({
    title: 'News for affiliates',
    about: 'What is new',
    home: 'https://desk.quernstone.example/portal',
    self: 'https://desk.quernstone.example/feed.json',
    language: 'en',
    items,
    ...more,
  }) as { items: Record<string, unknown>[] } & Record<string, unknown>;

describe('a moment as RSS writes it', () => {
  it('names the day, four digits of the year, and the offset', () => {
    expect(rfc822(at)).toBe('Fri, 12 Mar 2027 10:00:00 +0000');
  });
  it('fills days and hours up with a nought', () => {
    expect(rfc822(Date.parse('2027-01-04T09:05:07Z'))).toBe('Mon, 04 Jan 2027 09:05:07 +0000');
  });
});

describe('a feed as JSON Feed 1.1', () => {
  it('says its version, where it is, and what it belongs to', () => {
    expect(feed([])).toEqual({
      version: 'https://jsonfeed.org/version/1.1',
      title: 'News for affiliates',
      description: 'What is new',
      home_page_url: 'https://desk.quernstone.example/portal',
      feed_url: 'https://desk.quernstone.example/feed.json',
      language: 'en',
      items: [],
    });
  });
  it('leaves out a description that is empty: readers would show the empty line', () => {
    expect(feed([], { about: '' })).not.toHaveProperty('description');
  });
  it('says of each thing when it was, to the second and in UTC', () => {
    expect(feed([item]).items).toEqual([
      {
        id: item.id,
        url: item.url,
        title: item.title,
        content_text: item.text,
        date_published: '2027-03-12T10:00:00.000Z',
      },
    ]);
  });
  it('names a picture only where there is one', () => {
    const [plain, pictured] = feed([
      item,
      { ...item, picture: 'https://desk.quernstone.example/p.png' },
    ]).items;
    expect(plain).not.toHaveProperty('image');
    expect(pictured).toHaveProperty('image', 'https://desk.quernstone.example/p.png');
  });
  it('puts what is ours alone under a name of our own, beside where that is described', () => {
    const [first] = feed([{ ...item, extra: { code: 'CLAY10', price: '€480.00' } }]).items;
    expect(first!._gravenel).toEqual({
      about: 'https://www.jsonfeed.org/version/1.1/#extensions',
      code: 'CLAY10',
      price: '€480.00',
    });
  });
  it('keeps the order in which things are given', () => {
    const ids = ['b', 'a', 'c'];
    expect(feed(ids.map((id) => ({ ...item, id }))).items.map((i) => i.id)).toEqual(ids);
  });
});
