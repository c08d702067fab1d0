export const root: string;
export function fail(sentence: string): never;
export function checkNode(): void;
export function run(command: string, args: string[], options?: object): number;
export function must(command: string, args: string[], options?: object): void;
export function installed(): void;
export function built(): void;

export function browser(): string;
