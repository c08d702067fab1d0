/** How many runs a property gets: its own number, or GRAVENEL_RUNS in the long form (`npm run property -- --runs=100000`). */
export function runsOf(usual: number): number {
  return Number(process.env.GRAVENEL_RUNS ?? usual);
}

/** The seed of this run, said in the name of each property so that a fault can be found again with GRAVENEL_SEED. */
export const seed = Number(process.env.GRAVENEL_SEED ?? 20270312);
