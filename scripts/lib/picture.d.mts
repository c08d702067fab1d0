export function drawn(document: string): string;
