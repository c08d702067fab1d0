import { Popover } from 'radix-ui';
import { startOfDay } from '../../core/calendar/zone';
import { DayInput } from './day-input';
import { useProgramme } from './programme';
import { wordLook } from './trigger';

interface Props {
  label: string;
  /** "2027-03-12" */
  value: string;
  onChange: (day: string) => void;
  /** named days to jump to */
  jumps?: readonly (readonly [text: string, day: string])[];
}

/** A day as a word of a sentence, in the programme's way of writing days; it opens to be chosen. */
export function DayChoice({ label, value, onChange, jumps = [] }: Props) {
  const { day, zone } = useProgramme();
  return (
    <Popover.Root>
      <Popover.Trigger aria-label={`${label}: ${day(startOfDay(value, zone))}`} className={wordLook}>
        {day(startOfDay(value, zone))}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-50 rounded-sm border border-rule bg-sheet p-3 shadow-float"
          aria-label={label}
        >
          <DayInput autoFocus label={label} value={value} required onDay={onChange} />
          {jumps.length > 0 && (
            <p className="mt-2 flex gap-3">
              {jumps.map(([text, to]) => (
                <Popover.Close key={to} className="link" onClick={() => onChange(to)}>
                  {text}
                </Popover.Close>
              ))}
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
