import { Check, ChevronDown } from 'lucide-react';
import { Select as Radix } from 'radix-ui';
import { useId } from 'react';
import { Combobox } from './combobox';
import { Labelled } from './labelled';
import { triggerLook, type SelectProps } from './trigger';

/** Above so many choices one is found by typing rather than by looking. */
const longList = 12;

/** One of some; of many it is found by typing a part of it. */
export function Select<T extends string>(props: SelectProps<T>) {
  return props.options.length > longList ? <Combobox {...props} /> : <ShortSelect {...props} />;
}

function ShortSelect<T extends string>({
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
  const at = options.findIndex(([v]) => v === value);
  return (
    // a choice may be the empty text, which the primitive keeps for “nothing chosen”: it is told places instead
    <Radix.Root value={at < 0 ? '' : String(at)} onValueChange={(to) => onPick(options[Number(to)]![0])}>
      <Radix.Trigger
        ref={ref}
        id={id}
        aria-label={label}
        aria-invalid={faulty || undefined}
        aria-describedby={describedBy}
        autoFocus={autoFocus}
        disabled={disabled}
        onBlur={onBlur}
        className={`${triggerLook(faulty)} ${className}`}
      >
        <span className="truncate">
          <Radix.Value />
        </span>
        <Radix.Icon>
          <ChevronDown size={13} className="text-ink3" />
        </Radix.Icon>
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={2}
          className="z-[60] max-h-[min(340px,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-sm border border-rule bg-sheet shadow-float"
        >
          <Radix.Viewport className="py-1">
            {options.map(([v, text], i) => (
              <Radix.Item
                key={v}
                value={String(i)}
                className="flex cursor-pointer items-center justify-between gap-4 px-2 py-[5px] outline-none data-[highlighted]:bg-copper-wash data-[state=checked]:font-semibold"
              >
                <Radix.ItemText>{text}</Radix.ItemText>
                <Radix.ItemIndicator>
                  <Check size={13} />
                </Radix.ItemIndicator>
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** One of some with its name above it. */
export function SelectField<T extends string>({
  label,
  outer = '',
  ...rest
}: SelectProps<T> & { label: string; /** classes of field and name together */ outer?: string }) {
  const id = useId();
  return (
    <div className={outer}>
      <Labelled htmlFor={id} className="mb-[3px]">
        {label}
      </Labelled>
      <Select id={id} {...rest} />
    </div>
  );
}
