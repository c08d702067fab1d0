import { carriedOver, sectionsOf, type PolicyContent } from './policy';
import { practicesShown, type PolicyReader, type PolicySection, type PracticeShown } from './policy-reading';

/** A part that differs between two versions; null where the version has no such part. */
export interface SectionChange {
  key: string;
  title: string;
  before: PolicySection | null;
  after: PolicySection | null;
}

/** A practice that is answered otherwise than before; null where a version does not answer it. */
export interface PracticeChange {
  key: string;
  name: string;
  before: PracticeShown | null;
  after: PracticeShown | null;
}

export interface PolicyChanges {
  practices: PracticeChange[];
  sections: SectionChange[];
}

const differs = (was: unknown, is: unknown) => JSON.stringify(was) !== JSON.stringify(is);

/** Those of the later version in its order, then those that only the earlier has. */
function pairs<T extends { key: string }>(before: readonly T[], after: readonly T[]): [T | null, T | null][] {
  const was = new Map(before.map((x) => [x.key, x]));
  const is = new Set(after.map((x) => x.key));
  const gone = before.filter((x) => !is.has(x.key));
  return [
    ...after.map((x): [T | null, T | null] => [was.get(x.key) ?? null, x]),
    ...gone.map((x): [T | null, T | null] => [x, null]),
  ];
}

/**
 * What differs between two versions for one reader: practice by practice, and part by part. Versions of two forms are compared in the
 * newer one, so that what was answered with yes or no before is no change. Only another order of the table is none either.
 * @param before null: nothing was there before
 */
export function policyChanges(
  before: PolicyContent | null,
  after: PolicyContent,
  reader: PolicyReader,
): PolicyChanges {
  if (after.form === 'sections') {
    const was = before ? sectionsOf(before, reader) : [];
    return { practices: [], sections: changedSections(was, sectionsOf(after, reader)) };
  }
  const was = before ? carriedOver(before) : null;
  const practices = pairs(
    was ? practicesShown(was.practices, reader) : [],
    practicesShown(after.practices, reader),
  ).flatMap(([old, now]) =>
    differs(old, now) ? [{ key: (now ?? old)!.key, name: (now ?? old)!.name, before: old, after: now }] : [],
  );
  const words = (p: PolicyContent | null) =>
    p ? sectionsOf(p, reader).filter((s) => s.key !== 'practices') : [];
  return { practices, sections: changedSections(words(was), words(after)) };
}

const changedSections = (before: PolicySection[], after: PolicySection[]): SectionChange[] =>
  pairs(before, after).flatMap(([old, now]) =>
    differs(old, now)
      ? [{ key: (now ?? old)!.key, title: (now ?? old)!.title, before: old, after: now }]
      : [],
  );

export const nothingDiffers = ({ practices, sections }: PolicyChanges): boolean =>
  practices.length === 0 && sections.length === 0;
