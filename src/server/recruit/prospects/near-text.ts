import { perConnection, type Searched } from './searched';
import { siteGap } from './sitegap';

interface NearText {
  stamp: number;
  ns: number[];
  lines: string;
  each: string[];
  names: string[];
  sites: string[];
}

const keptText = perConnection((): NearText => ({
  stamp: -1,
  ns: [],
  lines: '',
  each: [],
  names: [],
  sites: [],
}));

/** Name and sites of every partner in one text, a line each: walked through in a few milliseconds, where asking each row would take fifty. Made anew when the copy has changed. */
export function nearText({ sqlite, stamp }: Searched): NearText {
  const kept = keptText(sqlite);
  if (kept.stamp !== stamp) {
    const rows = sqlite
      .prepare<[], { n: number; name: string; sites: string }>(
        'SELECT rowid AS n, name, sites FROM prospect_text ORDER BY rowid',
      )
      .all();
    const each = rows.map((r) => `${r.name}${siteGap}${r.sites}`);
    Object.assign(kept, {
      stamp,
      ns: rows.map((r) => r.n),
      lines: each.join('\n'),
      each,
      names: rows.map((r) => r.name),
      sites: rows.map((r) => r.sites),
    });
  }
  return kept;
}

/** Numbers of the partners whose name or sites hold every one of some words. */
export function linesWith(store: Searched, words: readonly string[]): number[] {
  const { ns, each } = nearText(store);
  return ns.filter((_, i) => words.every((w) => each[i]!.includes(w)));
}

/** Numbers of the partners whose name, or one of whose sites, holds a text. */
export function partsWith(store: Searched, field: 'names' | 'sites', text: string): number[] {
  const kept = nearText(store);
  return kept.ns.filter((_, i) => kept[field][i]!.includes(text));
}
