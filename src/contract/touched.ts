import type { AnyEndpoint } from './endpoint';

/** The part of a path that says what a call is about: “affiliates” of /api/v1/affiliates/:id/places. */
function subjectOf(path: string): string {
  return path.replace(/^\/api\/(open\/)?v1\//, '').split('/')[0]!;
}

/** What is put together from everything, and is shown anew after any act. */
const fromEverything = ['today', 'counts', 'missing', 'audit', 'search', 'session', 'portal'];

/** What shows the terms and a draft of them. */
const terms = ['draft', 'rehearsals', 'rehearsal-sample', 'rate-book', 'timeline', 'sets'];

/**
 * By what an act is about, what is shown otherwise after it, beside what is put together from everything. What is about
 * something that is not named here – a product, a payout run, an affiliate, the clock – is shown almost everywhere.
 */
const shownIn: Partial<Record<string, readonly string[]>> = {
  notices: ['notices', 'offer'],
  templates: ['templates'],
  segments: ['segments'],
  screening: ['screening', 'applications'],
  connection: ['connection', 'reports'],
  draft: terms,
  creatives: ['creatives', 'coverage', 'requests', 'timeline'],
  // words of creatives are compared with coupons
  coupons: ['coupons', 'creatives', 'coverage', 'timeline'],
  planned: ['creatives', 'coupons', 'timeline'],
  requests: ['requests', 'coverage', 'affiliates'],
};

/** Acts that reach further than others about the same: what is saved of a draft holds everywhere. */
const furtherReaching = ['/api/v1/draft/save'];

/** Whether what a reading call has shown can be otherwise after an act. */
export function isTouchedBy(act: Pick<AnyEndpoint, 'path'>, read: Pick<AnyEndpoint, 'path'>): boolean {
  const shown = shownIn[subjectOf(act.path)];
  if (!shown || furtherReaching.includes(act.path)) return true;
  const subject = subjectOf(read.path);
  return shown.includes(subject) || fromEverything.includes(subject);
}
