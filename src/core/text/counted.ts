/**
 * How many of something, in words: “1 order”, “2,300 orders”.
 * @param n a whole number
 * @param many the word for none and for several; the word for one with an s where it is left out
 */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
}
