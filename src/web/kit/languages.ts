const names = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' });

/** A language by its name: “French” of fr; a code that is none as it was typed. */
export function languageName(code: string): string {
  try {
    return names.of(code) ?? code;
  } catch {
    return code;
  }
}
