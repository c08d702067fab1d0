import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { linterOptions: { noInlineConfig: true } },
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
      // what the types cannot be shown is said in a helper with a name, not cast away
      'no-restricted-syntax': [
        'error',
        { selector: 'TSAsExpression > TSNeverKeyword', message: 'Nothing is of the type never.' },
        {
          selector: 'TSAsExpression > TSAsExpression > TSUnknownKeyword',
          message: 'A cast by way of unknown says nothing.',
        },
        {
          selector: 'VariableDeclarator > Identifier.id[name="of"], :function > Identifier.params[name="of"]',
          message: 'A value is named by what it is.',
        },
      ],
      '@typescript-eslint/ban-ts-comment': 'error',
    },
  },
  {
    // a file has one subject
    files: ['**/*.ts', '**/*.tsx'],
    rules: { 'max-lines': ['error', { max: 400 }] },
  },
  {
    // a function does one thing: tests, benches and scripts as well
    files: ['**/*.ts', '**/*.tsx', '**/*.mjs'],
    rules: {
      'max-lines-per-function': ['error', { max: 60 }],
      complexity: ['error', 12],
      'max-params': ['error', 4],
    },
  },
  {
    // what a component draws stands in one piece
    files: ['src/web/**/*.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 120 }] },
  },
);
