import { type Sqlite } from './sqlite';

type Statement = ReturnType<Sqlite['prepare']>;

/** Texts of statements that are kept; lists of different lengths make many of them. */
const mostKept = 1000;

/** A statement as the query builder asks for it. Rows as lists come from a statement of their own, since the way a statement answers stays with it. */
function keptStatement(sqlite: Sqlite, source: string): Pick<Statement, 'run' | 'get' | 'all' | 'raw'> {
  const plain = sqlite.prepare(source);
  let raw: Statement | null = null;
  return {
    run: (...values: unknown[]) => plain.run(...values),
    get: (...values: unknown[]) => plain.get(...values),
    all: (...values: unknown[]) => plain.all(...values),
    raw: () => (raw ??= sqlite.prepare(source).raw()),
  };
}

/** The connection for a query builder that prepares anew whatever it runs: a statement of the same words is planned once. */
export function keepingStatements(sqlite: Sqlite): Sqlite {
  const kept = new Map<string, ReturnType<typeof keptStatement>>();
  const prepare = (source: string) => {
    let found = kept.get(source);
    if (found) return found;
    // the oldest goes: what is asked for often comes back at once
    if (kept.size >= mostKept) kept.delete(kept.keys().next().value!);
    kept.set(source, (found = keptStatement(sqlite, source)));
    return found;
  };
  return new Proxy(sqlite, {
    get: (target, name) => {
      if (name === 'prepare') return prepare;
      const value = Reflect.get(target, name) as unknown;
      return typeof value === 'function' ? (value.bind(target) as unknown) : value;
    },
  });
}
