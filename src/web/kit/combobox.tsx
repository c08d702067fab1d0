import { Command } from 'cmdk';
import { Check, ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRef, useState, type Ref } from 'react';
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
  // letters on the choice itself open it, and are not lost until its field has the focus
  const [typed, setTyped] = useState('');
  const field = useRef<HTMLInputElement>(null);
  const text = options.find(([v]) => v === value)?.[1] ?? value;
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setTyped('');
        setOpen(next);
      }}
    >
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
          // what is pressed before the field of the list has the focus shuts nothing and picks nothing
          if (open && (e.key === 'Enter' || e.key === ' ')) e.preventDefault();
          const letter = /^[^\s]$/u.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey;
          if (!letter && e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
          e.preventDefault();
          if (letter) setTyped((before) => before + e.key);
          setOpen(true);
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
          // its field takes the focus: selected as a whole, the first letter would be typed over
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            field.current?.focus();
          }}
          className="z-[60] w-[max(220px,var(--radix-popover-trigger-width))] rounded-sm border border-rule bg-sheet shadow-float"
        >
          <Choices
            {...{ value, options, typed, setTyped, field }}
            onPick={(picked) => {
              onPick(picked);
              setTyped('');
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
  typed,
  setTyped,
  field,
}: Pick<SelectProps<T>, 'value' | 'options' | 'onPick'> & {
  typed: string;
  setTyped: (typed: string) => void;
  field: Ref<HTMLInputElement>;
}) {
  return (
    <Command defaultValue={itemOf(value)} filter={closeness} label="Choices">
      <Command.Input
        ref={field}
        value={typed}
        onValueChange={setTyped}
        placeholder="Type a part of it"
        className="w-full border-b border-rule px-2 py-[6px] outline-none"
      />
      <Command.List className="max-h-[280px] overflow-auto py-1">
        <Command.Empty className="px-2 py-[5px] text-ink2">None of them has this in its name.</Command.Empty>
        {options.map(([v, text]) => (
          <Command.Item
            key={v}
            // not by its words: two may be called the same
            value={itemOf(v)}
            keywords={[text]}
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

/** A choice as a line of the list, which may not be called by the empty text. */
const itemOf = (value: string) => `=${value}`;

/** Highest where what is typed is the code itself, then where the text begins with it, then one of its words; 0 where it is not in it. */
function closeness(item: string, typed: string, [text = '']: string[] = []): number {
  const plain = (text: string) => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
  const [whole, part] = [plain(text), plain(typed.trim())];
  if (part !== '' && item.toLowerCase() === itemOf(part)) return 1;
  if (whole.startsWith(part)) return 0.9;
  const words = whole.split(/[\s/_:,.-]+/);
  if (words.some((word) => word.startsWith(part))) return 0.7;
  return whole.includes(part) ? 0.4 : 0;
}
