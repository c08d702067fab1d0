const signs = /bot\b|crawler|spider|slurp|link ?preview/i;

/** True if the user agent names itself as a program that walks pages; its visits are kept apart and earn nothing. */
export function looksAutomated(userAgent: string | undefined): boolean {
  return signs.test(userAgent ?? '');
}
