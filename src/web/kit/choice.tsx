import { DropdownMenu } from 'radix-ui';
import { itemLook, menuLook } from './menu';
import { wordLook } from './trigger';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [value: T, text: string])[];
  onChange: (value: T) => void;
}

/** A word of a filter sentence that opens its other choices. */
export function Choice<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={label} className={wordLook}>
        {options.find(([v]) => v === value)?.[1] ?? value}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className={`${menuLook} min-w-36`}>
          <DropdownMenu.RadioGroup value={value} onValueChange={(v) => onChange(v as T)}>
            {options.map(([v, text]) => (
              <DropdownMenu.RadioItem
                key={v}
                value={v}
                className={`${itemLook} data-[state=checked]:font-semibold`}
              >
                {text}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
