import { expect, it } from 'vitest';
import { handedPart, sampleHanded } from './handed';

const loam = { handle: 'loam-letters', id: 'aff_1' };

it.each([
  [{ parameter: '', as: 'handle' } as const, ''],
  [{ parameter: 'partner', as: 'handle' } as const, '&partner=loam-letters'],
  [{ parameter: 'pid', as: 'number' } as const, '&pid=aff_1'],
])('%j hands over “%s”', (handed, part) => {
  expect(handedPart(handed, loam)).toBe(part);
});

it('what stands in a handle cannot become a parameter of its own', () => {
  expect(handedPart({ parameter: 'p', as: 'handle' }, { handle: 'a&b=c#d', id: '' })).toBe(
    '&p=a%26b%3Dc%23d',
  );
});

it('a sample stands behind the page as it is', () => {
  expect(sampleHanded('https://shop.quernstone.example/w?x=1', { parameter: 'partner', as: 'handle' })).toBe(
    'https://shop.quernstone.example/w?x=1&gvn=vis_…&partner=loam-letters',
  );
  expect(sampleHanded('', { parameter: '', as: 'number' })).toBe(
    'https://shop.quernstone.example/p/wheel?gvn=vis_…',
  );
});
