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
