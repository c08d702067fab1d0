import { useEffect, useRef, useState } from 'react';
import type { CreativeRow } from '../../../../../contract/equip/creatives';
import { momentOfWall } from '../../../../../core/calendar/wall';
import type { Audience } from '../../../../../core/material/audience';
import { counted } from '../../../../../core/text/counted';
import { Button } from '../../../../kit/button';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { TextLine } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import { Pair } from '../../../../kit/layout';
import { useProgramme } from '../../../../kit/programme';
import { WallField } from '../../../../kit/wall-field';
import { AudienceField } from '../../../shared/audience-field';
import { useMany, type Changes } from './use-many';

export type ManyAct = 'on' | 'off' | 'audience' | 'dates' | 'subject' | 'remove' | 'restore';

const titles: Record<Exclude<ManyAct, 'on' | 'off' | 'remove' | 'restore'>, string> = {
  audience: 'Who may use',
  dates: 'From and until',
  subject: 'Subject',
};

const atOnce: Partial<Record<ManyAct, Changes>> = {
  on: { active: true },
  off: { active: false },
  remove: { removed: true },
  restore: { removed: false },
};

interface Props {
  what: ManyAct;
  whom: CreativeRow[];
  onClose: () => void;
  onDone: () => void;
}

/** An act on one or many: switching is done at once and can be taken back, the others ask what it is to be. */
export function ManyDialog(props: Props) {
  const changes = atOnce[props.what];
  return changes ? <AtOnce {...props} changes={changes} /> : <Asked {...props} />;
}

function AtOnce({ whom, changes, onDone }: Props & { changes: Changes }) {
  const act = useMany();
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    act.mutate({ body: { ids: whom.map((r) => r.id), changes } });
    onDone();
  }, [act, whom, changes, onDone]);
  return null;
}

function Asked({ what, whom, onClose, onDone }: Props) {
  const { zone } = useProgramme();
  const act = useMany(onDone);
  const [audience, setAudience] = useState<Audience>({ kind: 'everybody' });
  const [subject, setSubject] = useState(whom[0]?.subject ?? '');
  const [dates, setDates] = useState({ from: '', until: '' });
  const changes: Changes =
    what === 'audience'
      ? { audience }
      : what === 'subject'
        ? { subject }
        : { from: momentOfWall(dates.from, zone), until: momentOfWall(dates.until, zone) };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`${titles[what as keyof typeof titles]}: ${counted(whom.length, 'creative')}`}
      about="Links that are out already lead on and earn, whatever is changed here."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate({ body: { ids: whom.map((r) => r.id), changes } });
        }}
      >
        {what === 'audience' && <AudienceField value={audience} onChange={setAudience} />}
        {what === 'subject' && (
          <Labelled>
            Subject, empty for none
            <TextLine autoFocus value={subject} maxLength={40} onText={setSubject} placeholder="Easter" />
          </Labelled>
        )}
        {what === 'dates' && (
          <Pair>
            <WallField
              label="Begins"
              value={dates.from}
              onChange={(from) => setDates((d) => ({ ...d, from }))}
              empty="at once"
            />
            <WallField
              label="Ends, exclusive"
              value={dates.until}
              onChange={(until) => setDates((d) => ({ ...d, until }))}
              empty="open"
            />
          </Pair>
        )}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={act.isPending}>
            Change {counted(whom.length, 'creative')}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
