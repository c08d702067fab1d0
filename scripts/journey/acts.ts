import { beginning } from './beginning';
import { paying } from './paying';
import { selling } from './selling';
import type { Stage } from './stage';

/** A step of the main job, by the name it is printed under. */
export type Act = readonly [step: string, play: (stage: Stage) => Promise<void>];

export const acts: readonly Act[] = [...beginning, ...selling, ...paying];
