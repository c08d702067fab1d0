/** Whether enough of a run was done for now, asked between two payees. @param done commissions or payments so far */
export type Enough = (done: number) => boolean;

/** Where nobody waits for a turn: all of it at once. */
export const never: Enough = () => false;

/** Where only the decision is made for now. */
export const onlyDecided: Enough = () => true;

const inATurn = 100;
const milliseconds = 4;

/** What may be done before redirects and reports have their turn: so many, or as many as there is time for, but one at least. */
export function aTurn(): Enough {
  const until = performance.now() + milliseconds;
  return (done) => done > 0 && (done >= inATurn || performance.now() >= until);
}
