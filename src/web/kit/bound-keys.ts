import { useEffect, useRef } from 'react';
import { createKeybindingsHandler } from 'tinykeys';

/**
 * How each key of a place is bound, by KeyboardEvent.key. A capital asks for Shift; its small letter then
 * comes without; everything else comes with Shift or without, as keyboards differ.
 */
export function bindingsOf(keys: readonly string[]): string[][] {
  return keys.map((key) => {
    if (key === ' ') return ['Space'];
    if (/^\p{Lu}$/u.test(key)) return [`Shift+${key.toLowerCase()}`];
    const hasCapital = key.toUpperCase() !== key && keys.includes(key.toUpperCase());
    return hasCapital ? [key] : [key, `Shift+${key}`];
  });
}

/** Where letters are somebody's text: in a field, and on a choice, where they find in it. */
export function isTyped({ target, isComposing }: KeyboardEvent): boolean {
  if (isComposing) return true;
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement && target.type === 'checkbox') return false;
  return target.isContentEditable || target.matches('input, textarea, select, [role=combobox]');
}

/** Where a key belongs to what has the focus: typing, and Enter on a link or a button. */
export function isTaken(event: KeyboardEvent): boolean {
  if (event.defaultPrevented || isTyped(event)) return true;
  return event.key === 'Enter' && event.target instanceof HTMLElement && event.target.matches('a, button');
}

/**
 * Acts on keys anywhere on the page while the component stands.
 * @param bound acts by binding, as tinykeys writes them: "j", "Shift+x", "Control+k"
 * @param ignore true for an event that is not for them
 */
export function useBoundKeys(
  bound: Record<string, () => void>,
  ignore: (event: KeyboardEvent) => boolean,
): void {
  const now = useRef({ bound, ignore });
  useEffect(() => {
    now.current = { bound, ignore };
  });
  const bindings = Object.keys(bound).join('\n');
  useEffect(() => {
    const acts = bindings.split('\n').map((binding) => {
      const act = (event: KeyboardEvent) => {
        event.preventDefault();
        now.current.bound[binding]?.();
      };
      return [binding, act] as const;
    });
    const act = createKeybindingsHandler(Object.fromEntries(acts));
    const onKey = (event: KeyboardEvent) => {
      if (!now.current.ignore(event)) act(event);
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, [bindings]);
}
