import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

export const menuLook = 'z-50 rounded-sm border border-rule bg-sheet py-1 shadow-float';
export const itemLook = 'cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-copper-wash';

interface Props<T extends string> {
  /** the button that opens it */
  trigger: ReactNode;
  side?: 'top' | 'bottom';
  align?: 'start' | 'end';
  items: readonly (readonly [value: T, text: ReactNode])[];
  onPick: (value: T) => void;
  /** where a key opens it as well: whether it is open, and what hears of it */
  open?: boolean;
  onOpen?: (open: boolean) => void;
}

/** A menu of acts. */
export function Menu<T extends string>({
  trigger,
  side = 'bottom',
  align = 'start',
  items,
  onPick,
  open,
  onOpen,
}: Props<T>) {
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content side={side} align={align} sideOffset={4} className={`${menuLook} min-w-44`}>
          {items.map(([value, text]) => (
            <DropdownMenu.Item key={value} className={itemLook} onSelect={() => onPick(value)}>
              {text}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface TicksProps<T extends string> {
  trigger: ReactNode;
  items: readonly (readonly [value: T, text: ReactNode])[];
  ticked: readonly T[];
  onChange: (ticked: T[]) => void;
}

/** A menu that stays open while things are ticked in it. */
export function TickMenu<T extends string>({ trigger, items, ticked, onChange }: TicksProps<T>) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={`${menuLook} min-w-44`}>
          {items.map(([value, text]) => (
            <DropdownMenu.CheckboxItem
              key={value}
              checked={ticked.includes(value)}
              onSelect={(e) => e.preventDefault()}
              onCheckedChange={(on) =>
                onChange(on ? [...ticked, value] : ticked.filter((other) => other !== value))
              }
              className={`${itemLook} flex gap-2 py-[3px]`}
            >
              <span className="w-3">{ticked.includes(value) ? '✓' : ''}</span>
              {text}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
