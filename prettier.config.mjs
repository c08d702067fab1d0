/** @type {import('prettier').Config} */
export default {
  printWidth: 110,
  singleQuote: true,
  plugins: ['@ianvs/prettier-plugin-sort-imports', 'prettier-plugin-tailwindcss'],
  importOrder: ['<BUILTIN_MODULES>', '<THIRD_PARTY_MODULES>', '^[.]'],
  importOrderTypeScriptVersion: '5.0.0',
  tailwindStylesheet: './src/web/styles.css',
  // reads the same as the compiler's own, in less time
  overrides: [{ files: ['*.ts', '*.tsx', '*.mts'], options: { parser: 'babel-ts' } }],
};
