import type { CreativeRow } from '../../../../../contract/equip/creatives';
import { counted } from '../../../../../core/text/counted';
import { Button } from '../../../../kit/button';
import { Menu } from '../../../../kit/menu';
import { Bar, BarEnd } from '../../../../kit/place';
import type { ManyAct } from './many';

interface Props {
  /** what an act is for: the selected, or the one that is looked at */
  whom: CreativeRow[];
  selected: number;
  rows: CreativeRow[];
  at: CreativeRow | null;
  begin: (what: ManyAct | 'plan') => void;
  open: (row: CreativeRow) => void;
}

const others = [
  ['audience', 'Who may use it…'],
  ['dates', 'From and until…'],
  ['subject', 'Subject…'],
  ['remove', 'Take out of the book'],
  ['restore', 'Bring back into the book'],
] as const;

/** The acts on the piece that is looked at, or on those that are selected. */
export function OneBar({ whom, selected, rows, at, begin, open }: Props) {
  const isOn = whom.every((r) => r.active);
  const place = at ? rows.findIndex((r) => r.id === at.id) + 1 : 0;
  return (
    <Bar>
      <Button keyName="E" disabled={!at || selected > 1} onClick={() => at && open(at)}>
        Change
      </Button>
      <Button keyName="P" disabled={!at || selected > 1} onClick={() => begin('plan')}>
        Plan a change
      </Button>
      <Button keyName="O" disabled={whom.length === 0} onClick={() => begin(isOn ? 'off' : 'on')}>
        {isOn ? 'Switch off' : 'Switch on'}
      </Button>
      <Menu
        trigger={<Button disabled={whom.length === 0}>More…</Button>}
        side="top"
        items={others}
        onPick={begin}
      />
      <BarEnd>
        {selected ? `${counted(selected, 'creative')} selected` : `${place} of ${rows.length}`} · <kbd>J</kbd>{' '}
        <kbd>K</kbd> move · <kbd>X</kbd> select · <kbd>?</kbd> all keys
      </BarEnd>
    </Bar>
  );
}
