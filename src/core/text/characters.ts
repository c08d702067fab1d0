// C0 and C1 controls but tab and line breaks, separators of lines, and marks that turn the direction of what follows
const strange =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069\ufffe\uffff]/;

/** The first character of a text that can be neither shown nor printed, as "U+0007"; null where there is none. Tabs and line breaks are fine. */
export function unprintable(text: string): string | null {
  const found =
    strange.exec(text)?.[0] ??
    /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/.exec(text)?.[0];
  return found === undefined ? null : `U+${found.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}`;
}

/** True if a text goes over several lines, or has a tab. */
export function hasBreaks(text: string): boolean {
  return /[\t\n\r]/.test(text);
}

/** A text of somebody outside without what cannot be shown: each such character becomes a space. @param lines false where it is one line */
export function printable(text: string, lines = false): string {
  let clean = text;
  for (let found = unprintable(clean); found; found = unprintable(clean))
    clean = clean.replaceAll(String.fromCharCode(parseInt(found.slice(2), 16)), ' ');
  return lines ? clean : clean.replace(/[\t\n\r]+/g, ' ');
}
