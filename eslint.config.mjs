import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Imports that a folder must not make: the arrows of docs/architecture.md, as patterns on the import path. */
const never = (files, patterns, message) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: patterns.map((p) => (p.startsWith('^') ? { regex: p, message } : { group: [p], message })),
      },
    ],
  },
});

export default tseslint.config(
  { ignores: ['dist/', 'node_modules/', 'data/', 'test-results/', 'playwright-report/'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      'react-hooks/static-components': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      eqeqeq: 'error',
      'no-console': 'error',
    },
  },
  never(
    ['src/core/**'],
    ['**/contract/**', '**/server/**', '**/web/**', '**/standins/**', '**/demo/**', '^[^.]'],
    'core imports nothing outside core',
  ),
  never(
    ['src/contract/**'],
    ['**/core/**', '**/server/**', '**/web/**', '**/standins/**', '**/demo/**'],
    'the contract imports nothing of ours',
  ),
  never(['src/server/**'], ['**/web/**', '**/demo/**'], 'server never imports web or demo'),
  // assemble.ts is the one place where ports get what stands behind them
  {
    ...never(
      ['src/server/**'],
      ['**/web/**', '**/demo/**', '**/standins/**'],
      'server defines ports; only assemble.ts knows the stand-ins',
    ),
    ignores: ['**/*.test.ts', 'src/server/assemble.ts'],
  },
  never(
    ['src/web/**'],
    ['**/server/**', '**/standins/**', '**/demo/**'],
    'web speaks to the server by the contract only',
  ),
  never(['src/standins/**'], ['**/web/**', '**/demo/**'], 'stand-ins import ports and core only'),
  never(['src/demo/**'], ['**/web/**'], 'nothing imports web'),
);
