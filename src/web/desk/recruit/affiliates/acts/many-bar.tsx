import { Button } from '../../../../kit/button';
import { Menu } from '../../../../kit/menu';
import { Bar, BarEnd } from '../../../../kit/place';
import type { Acting } from './many';

const usual = [
  ['group', 'Group', 'G'],
  ['tag-on', 'Tag', 'T'],
  ['card', 'Card', 'C'],
  ['message', 'Write', 'M'],
] as const;

const others = [
  ['tag-off', 'Take a tag off'],
  ['pause', 'Pause'],
  ['resume', 'Resume'],
  ['looked-after', 'Looked after by'],
  ['kind', 'Kind of partner'],
] as const;

/** The acts on those who are picked in the roster. */
export function ManyBar({
  off,
  begin,
  selected,
}: {
  /** nobody is picked */
  off: boolean;
  begin: (what: Acting) => void;
  /** how many are selected, in words that end in “ · ”, or nothing */
  selected: string;
}) {
  return (
    <Bar>
      {usual.map(([what, name, key]) => (
        <Button key={what} keyName={key} disabled={off} onClick={() => begin(what)}>
          {name}
        </Button>
      ))}
      <Menu trigger={<Button disabled={off}>More…</Button>} side="top" items={others} onPick={begin} />
      <BarEnd>
        {selected}
        <kbd>X</kbd> select · <kbd>E</kbd> everybody · <kbd>?</kbd> all keys
      </BarEnd>
    </Bar>
  );
}
