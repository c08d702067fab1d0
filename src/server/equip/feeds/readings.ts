import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { writeFeed } from './content';

/** Feeds, written beside the serving thread. */
export const feedReadings = readingsOf({
  feed: (app: App, asked: Parameters<typeof writeFeed>[1]) => writeFeed(app, asked),
});
