import type { App } from '../src/server/ground/context';

/** An app with no more than what a measurement asks of it. */
export const appWith = (parts: Partial<App>): App => parts as App;
