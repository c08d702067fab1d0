import { Command } from 'cmdk';
import { Check, ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { triggerLook, type SelectProps } from './trigger';

/** One of many: it opens to a list that is narrowed by typing, from the start of any word first. */
export function Combobox<T extends string>({
  value,
  options,
  onPick,
  label,
  id,
  autoFocus,
  disabled,
  faulty,
  describedBy,
  onBlur,
  className = 'w-full',
  ref,
}: SelectProps<T>) {
  const [open, setOpen] = useState(false);
  const text = options.find(([v]) => v === value)?.[1] ?? value;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        ref={ref}
        id={id}
        role="combobox"
        aria-expanded={open}
        aria-label={label}
        aria-invalid={faulty || undefined}
        aria-describedby={describedBy}
        autoFocus={autoFocus}
        disabled={disabled}
        onBlur={onBlur}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
            e.preventDefault();
            setOpen(true);
          }
        }}
        className={`${triggerLook(faulty)} ${className}`}
      >
        <span className="truncate">{text}</span>
        <ChevronDown size={13} className="text-ink3" aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={2}
          aria-label={label ?? 'Choices'}
          className="z-[60] w-[max(220px,var(--radix-popover-trigger-width))] rounded-sm border border-rule bg-sheet shadow-float"
        >
          <Choices
            {...{ value, options }}
            onPick={(picked) => {
              onPick(picked);
              setOpen(false);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Choices<T extends string>({
  value,
  options,
  onPick,
}: Pick<SelectProps<T>, 'value' | 'options' | 'onPick'>) {
  const chosen = options.find(([v]) => v === value)?.[1];
  return (
    <Command defaultValue={chosen} filter={closeness} label="Choices">
      <Command.Input
        autoFocus
        placeholder="Type a part of it"
        className="w-full border-b border-rule px-2 py-[6px] outline-none"
      />
      <Command.List className="max-h-[280px] overflow-auto py-1">
        <Command.Empty className="px-2 py-[5px] text-ink2">None of them has this in its name.</Command.Empty>
        {options.map(([v, text]) => (
          <Command.Item
            key={v}
            value={text}
            onSelect={() => onPick(v)}
            className="flex cursor-pointer items-center justify-between gap-4 px-2 py-[5px] data-[selected=true]:bg-copper-wash"
          >
            <span>{text}</span>
            {v === value && <Check size={13} />}
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}

/** 1 where the text begins with what is typed, less where one of its words does, 0 where it is not in it. */
function closeness(text: string, typed: string): number {
  const plain = (of: string) => of.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
  const [whole, part] = [plain(text), plain(typed.trim())];
  if (whole.startsWith(part)) return 1;
  const words = whole.split(/[\s/_:,.-]+/);
  if (words.some((word) => word.startsWith(part))) return 0.7;
  return whole.includes(part) ? 0.4 : 0;
}
