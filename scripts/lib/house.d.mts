export const parts: Record<string, string[]>;
export const floors: string[][];
export const owners: Record<string, string>;
export const readFrom: Record<string, string>;
