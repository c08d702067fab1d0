import { createKeybindingsHandler } from 'tinykeys';
import { describe, expect, it, vi } from 'vitest';
import { bindingsOf } from './bound-keys';

// the package asks for a real event of a keyboard, which there is none of outside browsers
class Pressed extends Event {}
vi.stubGlobal('KeyboardEvent', Pressed);

interface Press {
  key: string;
  code?: string;
  held?: readonly string[];
}

/** Which of the keys of a place acts when one is pressed on a keyboard. */
function acting(keys: readonly string[], { key, code = key, held = [] }: Press): string | null {
  let acted: string | null = null;
  const bindings = bindingsOf(keys);
  const acts = keys.flatMap((name, i) => bindings[i]!.map((b) => [b, () => (acted = name)] as const));
  const pressed = { key, code, getModifierState: (name: string) => held.includes(name) };
  createKeybindingsHandler(Object.fromEntries(acts))(
    Object.assign(new Pressed('keydown'), pressed) as KeyboardEvent,
  );
  return acted;
}

const place = ['j', 'x', 'X', '/', '?', ' ', 'Enter', 'Escape', 'ArrowDown'];

describe('the keys of a place', () => {
  it.each<[Press, string | null]>([
    [{ key: 'j' }, 'j'],
    [{ key: 'J', held: ['Shift'] }, 'j'],
    [{ key: 'x' }, 'x'],
    [{ key: 'X', held: ['Shift'] }, 'X'],
    [{ key: '/' }, '/'],
    // where the stroke is written with Shift
    [{ key: '/', code: 'Digit7', held: ['Shift'] }, '/'],
    [{ key: '?', held: ['Shift'] }, '?'],
    [{ key: ' ', code: 'Space' }, ' '],
    [{ key: 'Enter' }, 'Enter'],
    [{ key: 'Escape' }, 'Escape'],
    [{ key: 'ArrowDown' }, 'ArrowDown'],
    [{ key: 'q' }, null],
    [{ key: 'j', held: ['Control'] }, null],
    [{ key: 'x', held: ['Meta'] }, null],
    [{ key: 'j', held: ['Alt'] }, null],
  ])('%j is %j', (press, key) => {
    expect(acting(place, press)).toBe(key);
  });
});
