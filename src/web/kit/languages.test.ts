import { expect, it } from 'vitest';
import { languageName } from './languages';

it('a language has its name, and what is none stands as it was typed', () => {
  expect(['fr', 'pt-BR', 'not a code', 'zz'].map(languageName)).toEqual([
    'French',
    'Brazilian Portuguese',
    'not a code',
    'zz',
  ]);
});
