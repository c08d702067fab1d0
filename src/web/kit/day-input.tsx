import { CalendarDays } from 'lucide-react';
import { Popover } from 'radix-ui';
import { lazy, Suspense, useId, useLayoutEffect, useRef, useState, type RefObject } from 'react';
import { readTypedDay } from '../../core/calendar/typed';
import { dayOf, isDay, startOfDay, type Day } from '../../core/calendar/zone';
import { Labelled } from './labelled';
import { useProgramme } from './programme';

// weeks and months are fetched when somebody looks at them first
const Calendar = lazy(() => import('./calendar'));

interface Props {
  id?: string;
  /** for those who hear it, where no label stands beside it */
  label?: string;
  /** "2027-03-12"; empty where there is none */
  value: Day | '';
  onDay: (day: Day | '') => void;
  min?: Day;
  max?: Day;
  /** cannot be emptied: left empty, it shows its day again */
  required?: boolean;
  disabled?: boolean;
  autoFocus?: boolean;
  faulty?: boolean;
  describedBy?: string;
}

/** What is being typed: its text, the day it stood for when it was written, and why it is none. */
interface Typing {
  text: string;
  gave: Day | '';
  fault: string | null;
}

/**
 * A day, typed as people write it or picked from a calendar; shown as everywhere.
 * A day with its year counts at once, anything else when the field is left. What is none stays, and says why.
 */
export function DayInput(props: Props) {
  const { value, label, min, max, disabled } = props;
  const input = useRef<HTMLInputElement>(null);
  const own = useId();
  const id = props.id ?? own;
  const { now, zone } = useProgramme();
  const today = dayOf(now, zone);
  const typing = useTypedDay(props, today);
  useHeldForm(input, typing.fault !== null);
  const faultId = `${id}-none`;
  const faulty = props.faulty || typing.fault !== null;
  return (
    <span className="inline-block font-normal text-ink">
      <span
        className={`inline-flex items-center rounded-sm border bg-sheet ${faulty ? 'border-madder' : 'border-rule'}`}
      >
        <input
          id={id}
          ref={input}
          disabled={disabled}
          aria-label={label}
          aria-invalid={faulty || undefined}
          aria-describedby={typing.fault ? faultId : props.describedBy}
          autoFocus={props.autoFocus}
          required={props.required}
          autoComplete="off"
          maxLength={40}
          placeholder="12 Mar 2027"
          value={typing.text}
          onChange={(e) => typing.type(e.target.value)}
          onBlur={typing.leave}
          onKeyDown={(e) => {
            if (e.key === 'Enter') typing.leave();
          }}
          className="w-[104px] rounded-sm px-2 py-[5px] disabled:bg-rail disabled:text-ink2"
        />
        <CalendarButton {...{ value, today, min, max, disabled }} onPick={typing.pick} />
      </span>
      {typing.fault && (
        <span id={faultId} role="alert" className="block max-w-[190px] text-madder">
          {typing.fault}
        </span>
      )}
    </span>
  );
}

/** A form is not sent while a day in it is none: it would be sent with the day that stood there before. */
function useHeldForm(input: RefObject<HTMLInputElement | null>, holds: boolean): void {
  useLayoutEffect(() => {
    const form = input.current?.form;
    if (!holds || !form) return undefined;
    const hold = (event: Event) => {
      event.preventDefault();
      event.stopPropagation();
      input.current?.focus();
    };
    form.addEventListener('submit', hold, true);
    return () => form.removeEventListener('submit', hold, true);
  }, [input, holds]);
}

function useTypedDay({ value, onDay, min, max, required }: Props, today: Day) {
  const { day, zone } = useProgramme();
  // what came from an address that somebody typed may be no day at all
  const words = (text: string) => (isDay(text) ? day(startOfDay(text, zone)) : text);
  const [typed, setTyped] = useState<Typing | null>(null);
  // a day that came from elsewhere takes the place of what was typed before
  const typing = typed && typed.gave === value ? typed : null;

  const faultOf = (text: string): string | null => {
    const read = readTypedDay(text, today);
    if ('fault' in read) return `“${text.trim()}” ${read.fault}; write it like ${words(today)}.`;
    if (read.day && min && read.day < min) return `${words(read.day)} is before ${words(min)}.`;
    if (read.day && max && read.day > max) return `${words(read.day)} is after ${words(max)}.`;
    return null;
  };
  const give = (to: Day | '', text: string | null) => {
    if (to === '' && required) return setTyped(text === null ? null : { text, gave: value, fault: null });
    setTyped(text === null ? null : { text, gave: to, fault: null });
    return to === value ? undefined : onDay(to);
  };

  return {
    text: typing?.text ?? (value && words(value)),
    fault: typing?.fault ?? null,
    pick: (to: Day) => give(to, null),
    type(text: string) {
      const read = readTypedDay(text, today);
      const whole = 'day' in read && (read.day === '' || /\d{4}/.test(text));
      if (whole && faultOf(text) === null) give(read.day, text);
      // a fault that is said already is not said again at each key, but goes once it is mended
      else setTyped({ text, gave: value, fault: typing?.fault ? faultOf(text) : null });
    },
    leave() {
      if (!typing) return;
      const read = readTypedDay(typing.text, today);
      const fault = faultOf(typing.text);
      if (fault !== null) setTyped({ ...typing, fault });
      else if ('day' in read) give(read.day, null);
    },
  };
}

interface ButtonProps extends Pick<Props, 'value' | 'min' | 'max' | 'disabled'> {
  today: Day;
  onPick: (day: Day) => void;
}

function CalendarButton({ onPick, disabled, ...limits }: ButtonProps) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label="Calendar"
        disabled={disabled}
        className="px-2 py-[5px] text-ink3 hover:text-copper"
      >
        <CalendarDays size={14} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          alignOffset={-104}
          sideOffset={4}
          aria-label="Calendar"
          className="relative z-[60] min-h-[288px] min-w-[250px] rounded-sm border border-rule bg-sheet p-3 shadow-float"
        >
          <Suspense>
            <Calendar
              {...limits}
              onPick={(day) => {
                onPick(day);
                setOpen(false);
              }}
            />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** A day with its name above it. */
export function DayField({ label, ...rest }: Props & { label: string }) {
  const id = useId();
  return (
    <div>
      <Labelled htmlFor={id} className="mb-[3px]">
        {label}
      </Labelled>
      <DayInput id={id} {...rest} />
    </div>
  );
}
