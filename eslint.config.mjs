import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

// what the types cannot be shown is said in a helper with a name, not cast away
const unsaid = [
  { selector: 'TSAsExpression > TSNeverKeyword', message: 'Nothing is of the type never.' },
  {
    selector: 'TSAsExpression > TSAsExpression > TSUnknownKeyword',
    message: 'A cast by way of unknown says nothing.',
  },
  {
    selector: 'VariableDeclarator > Identifier.id[name="of"], :function > Identifier.params[name="of"]',
    message: 'A value is named by what it is.',
  },
];

// a component that is made while another draws begins anew each time: what was typed into it is gone
const component = '/^[A-Z]+[a-z]/';
const made = [
  `:function FunctionDeclaration[id.name=${component}]`,
  `:function VariableDeclarator[id.name=${component}] > :function`,
  `:function VariableDeclarator[id.name=${component}] > CallExpression[callee.name=/^(memo|forwardRef|lazy)$/]`,
].map((selector) => ({ selector, message: 'A component is made once, outside of what draws it.' }));

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
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      eqeqeq: 'error',
      'no-console': 'error',
      'no-restricted-syntax': ['error', ...unsaid],
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
    rules: {
      'max-lines-per-function': ['error', { max: 120 }],
      'no-restricted-syntax': ['error', ...unsaid, ...made],
    },
  },
);
