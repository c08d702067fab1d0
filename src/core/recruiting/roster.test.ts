import { describe, expect, it } from 'vitest';
import { faultOfLine, knownHeadings, type RosterLine } from './roster';

const line = (l: Partial<RosterLine>): RosterLine => ({
  line: 2,
  handle: '',
  email: 'a@b.example',
  name: '',
  country: '',
  site: '',
  group: '',
  tags: [],
  kind: '',
  ...l,
});

describe('a list to be read in', () => {
  it('knows columns by their heading and names the ones it passes over', () => {
    const { known, passed } = knownHeadings(['E-Mail', ' name ', 'Shoe size', '', 'tags']);
    expect([...known.values()]).toEqual(['email', 'name', 'tags']);
    expect(passed).toEqual(['Shoe size']);
  });
  it.each([
    [{ email: '' }, /neither handle nor e-mail/],
    [{ email: 'a@b' }, /“a@b” is not an e-mail address/],
    [{ country: 'Portugal' }, /two letters, such as PT/],
    [{ kind: 'plumber' }, /kind “plumber” is not known, such as blog/],
    [{ site: 'nowhere' }, /is not a site/],
    [{ name: 'x'.repeat(121) }, /longer than 120/],
  ])('%j is wrong', (l, why) => {
    expect(faultOfLine(line(l), ['blog'])).toMatch(why);
  });
  it.each([
    {},
    { email: '', handle: 'x' },
    { country: 'pt' },
    { kind: 'BLOG' },
    { site: 'https://töpfer.example:8080/a' },
  ])('%j is fine', (l) => {
    expect(faultOfLine(line(l), ['blog'])).toBeNull();
  });
});
