/** Text made safe inside HTML. */
export function escapeHtml(text: string | number): string {
  return String(text).replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** A number of bytes for people: "12 KB", "3.4 MB". */
export function sizeInWords(bytes: number): string {
  return bytes < 1024 * 1024
    ? `${Math.max(1, Math.round(bytes / 1024))} KB`
    : `${(bytes / 1024 / 1024).toFixed(1)} MB`;
}

/** The size of what is too large: where the words would be those of the bound itself, by how much it is over. */
export function tooLargeInWords(bytes: number, most: number): string {
  const words = sizeInWords(bytes);
  if (words !== sizeInWords(most)) return words;
  const more = bytes - most;
  return `${more.toLocaleString('en-GB')} ${more === 1 ? 'byte' : 'bytes'} more than ${words}`;
}
