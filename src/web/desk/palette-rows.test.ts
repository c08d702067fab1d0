import { expect, it } from 'vitest';
import { rowsFor } from './palette-rows';

const found = [{ title: 'Glaze calculator' }, { title: 'Apple Kiln' }];

it('shows what was found for what is typed, by whatever it was found', () => {
  expect(rowsFor('loamletters.example', found, false)).toEqual(found);
});

it('keeps of an answer to fewer letters only what the letters since leave in it', () => {
  expect(rowsFor('Appl', found, true)).toEqual([{ title: 'Apple Kiln' }]);
  expect(rowsFor('applications', found, true)).toEqual([]);
});

it('shows nothing where nothing is typed', () => {
  expect(rowsFor('', found, true)).toEqual([]);
  expect(rowsFor('', found, false)).toEqual([]);
});
