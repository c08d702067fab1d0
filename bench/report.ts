/** Prints one case as a line of JSON: the rate, the limit's rate in the same run, their ratio, and the goal. */
export function report(
  name: string,
  result: { ours: number; limit: number; ratio: number },
  goal: number,
): void {
  process.stdout.write(`${JSON.stringify({ case: name, ...result, goal, reached: result.ratio >= goal })}\n`);
}
