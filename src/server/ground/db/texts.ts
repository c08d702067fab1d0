import type { Statement } from 'better-sqlite3';
import { type Sqlite } from './sqlite';

/** Rows whose texts stand in one string. */
const inAChunk = 8192;

interface Read {
  row: number;
  id: string;
  text: string;
}
interface Chunk {
  rows: number[];
  starts: number[];
  text: string;
}

/** Which texts of a table are kept: every row that fits, by an SQL expression that never changes for a row. */
export interface TextsOf {
  table: string;
  text: string;
  where?: string;
}

/** As LIKE compares: without regard to case in the letters of ASCII. */
const lowered = (part: string) => part.replace(/[A-Z]/g, (c) => c.toLowerCase());

/** The line of a chunk that holds a position. */
function lineAt(starts: readonly number[], position: number): number {
  let [low, high] = [0, starts.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= position) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Rows of a chunk with a part in them, newest first. */
function* rowsWith({ rows, starts, text }: Chunk, part: string): Generator<number> {
  for (let at = text.lastIndexOf(part); at >= 0;) {
    const line = lineAt(starts, at);
    yield rows[line]!;
    at = starts[line] === 0 ? -1 : text.lastIndexOf(part, starts[line]! - 1);
  }
}

/**
 * The texts of a table that only grows, in memory, so that any part is found within milliseconds where reading half a million rows would take hundreds. What
 * was added since is read with each question; where rows were taken away at the end, all is read anew.
 */
export class RowTexts {
  readonly #first: Statement<[], number>;
  readonly #newest: Statement<[number], string>;
  readonly #next: Statement<[number, number], Read>;
  #chunks: Chunk[] = [];
  #last = { row: 0, id: '' };

  constructor(sqlite: Sqlite, { table, text, where }: TextsOf) {
    this.#first = sqlite.prepare<[], number>(`SELECT min(rowid) FROM ${table}`).pluck();
    this.#newest = sqlite.prepare<[number], string>(`SELECT id FROM ${table} WHERE rowid = ?`).pluck();
    this.#next = sqlite.prepare(
      `SELECT rowid AS row, id, lower(${text}) AS text FROM ${table} WHERE rowid > ?${where ? ` AND ${where}` : ''} ORDER BY rowid LIMIT ?`,
    );
  }

  /** Row numbers with a part in their text, newest first, at most so many. Whoever reads the rows looks again: one may have gone since. */
  find(part: string, most: number): number[] {
    // texts are of one line each: what spans two fits none
    if (part.includes('\n')) return [];
    this.#startAgain();
    while (this.#readPiece());
    const found: number[] = [];
    const wanted = lowered(part);
    for (let i = this.#chunks.length - 1; i >= 0; i -= 1) {
      for (const row of rowsWith(this.#chunks[i]!, wanted)) {
        found.push(row);
        if (found.length === most) return found;
      }
    }
    return found;
  }

  /** Reads one piece of what is not kept yet, so that the first who asks need not wait for all. @returns whether there may be more */
  prepare(): boolean {
    this.#startAgain();
    return this.#readPiece();
  }

  /** Forgets all where the newest row is gone: its number may be another's by now. */
  #startAgain(): void {
    // a log is shortened from its beginning: so are its texts
    const first = this.#first.get() ?? null;
    while (this.#chunks.length > 1 && first !== null && this.#chunks[0]!.rows.at(-1)! < first)
      this.#chunks.shift();
    if (this.#last.row === 0 || this.#newest.get(this.#last.row) === this.#last.id) return;
    this.#chunks = [];
    this.#last = { row: 0, id: '' };
  }

  #readPiece(): boolean {
    const some = this.#next.all(this.#last.row, inAChunk);
    if (!some.length) return false;
    this.#add(some);
    this.#last = { row: some.at(-1)!.row, id: some.at(-1)!.id };
    return some.length === inAChunk;
  }

  /** A chunk that is not full is made anew with what came: they stay few. */
  #add(some: Read[]): void {
    const open = this.#chunks.at(-1);
    const isOpen = open !== undefined && open.rows.length + some.length <= inAChunk;
    const chunk: Chunk = isOpen ? open : { rows: [], starts: [], text: '' };
    if (!isOpen) this.#chunks.push(chunk);
    const lines: string[] = [];
    let at = chunk.text.length;
    for (const { row, text } of some) {
      chunk.rows.push(row);
      chunk.starts.push(at);
      lines.push(text, '\n');
      at += text.length + 1;
    }
    chunk.text += lines.join('');
  }
}
