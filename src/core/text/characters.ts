// C0 and C1 controls but tab and line breaks, separators of lines, and marks that turn the direction of what follows
const strange = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069\ufffe\uffff]/;

/** The first character of a text that can be neither shown nor printed, as "U+0007"; null where there is none. Tabs and line breaks are fine. */
export function unprintable(text: string): string | null {
  const found = strange.exec(text)?.[0] ?? /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/.exec(text)?.[0];
  return found === undefined ? null : `U+${found.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}`;
}

/** True if a text goes over several lines, or has a tab. */
export function hasBreaks(text: string): boolean {
  return /[\t\n\r]/.test(text);
}
