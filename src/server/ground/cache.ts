import type { App } from './context';
import { type Topic } from './kept';

/** Something that is read once and kept until its topic is touched. Nothing (null) is not kept: it is looked for again. */
export function cached<T>(topic: Topic, read: (app: App) => T): (app: App) => T {
  const place = {};
  return (app) => {
    const shelf = app.kept.shelves[topic];
    const kept = shelf.get(place);
    if (kept !== undefined) return kept as T;
    const found = read(app);
    if (found !== null && found !== undefined) shelf.set(place, found);
    return found;
  };
}

/** Drops what is kept of a topic, and tells nobody: for who reads along, and for what was taken back. */
export function drop(app: App, topic: Topic): void {
  app.kept.shelves[topic].clear();
}

/** Call after any change of settings, products, affiliates or links ("records"), of rates, sets, members, locks or pauses ("terms"). */
export function touch(app: App, topic: Topic): void {
  if (topic === 'terms') drop(app, 'terms');
  app.kept.stamp += 1;
  drop(app, 'records');
  for (const tell of app.kept.onChange) tell();
}
