import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { BodyOf } from '../../../../../contract/endpoint';
import { planChange } from '../../../../../contract/equip/planned';
import { momentOfWall } from '../../../../../core/calendar/wall';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { Dialog, SubmitFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { TextLine } from '../../../../kit/inputs';
import { faultInWords } from '../../../../kit/keeper';
import { Labelled } from '../../../../kit/labelled';
import { Said } from '../../../../kit/note';
import { useProgramme } from '../../../../kit/programme';
import { SelectField } from '../../../../kit/select';
import { WallField } from '../../../../kit/wall-field';

type Changes = BodyOf<typeof planChange>['changes'];
type Field = 'off' | 'on' | 'landing' | 'until' | 'name' | 'note';

const fields: readonly (readonly [Field, string])[] = [
  ['off', 'it is switched off'],
  ['on', 'it is switched on'],
  ['landing', 'its landing page'],
  ['until', 'its end'],
  ['name', 'its name'],
  ['note', 'its note to affiliates'],
];

const examples: Partial<Record<Field, string>> = {
  landing: 'https://shop.quernstone.example/easter; empty for the page of its product',
  name: 'Box, blue',
  note: 'Best beside a text about small kitchens.',
};

/** Plans a usual change for later. Every other field is planned from the form. */
export function PlanDialog({ id, name, onClose }: { id: Id<'creative'>; name: string; onClose: () => void }) {
  const { zone } = useProgramme();
  const [field, setField] = useState<Field>('off');
  const [text, setText] = useState('');
  const [end, setEnd] = useState('');
  const [at, setAt] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const plan = useAct(planChange, {
    done: () => {
      toast('Planned; it can be undone until then');
      onClose();
    },
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  const changes = (): Changes => {
    if (field === 'on' || field === 'off') return { active: field === 'on' };
    if (field === 'until') return { until: momentOfWall(end, zone) };
    return { [field]: text };
  };
  return (
    <Dialog open onClose={onClose} title={`Plan a change of “${name}”`}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          const moment = momentOfWall(at, zone);
          if (moment === null) return setFault('Choose the moment at which it is to change.');
          return plan.mutate({ params: { id }, body: { at: moment, changes: changes() } });
        }}
      >
        <FormFault>{fault}</FormFault>
        <SelectField label="What changes" value={field} options={fields} onPick={setField} autoFocus />
        {field === 'until' && <WallField label="New end" value={end} onChange={setEnd} empty="no end" />}
        {field in examples && (
          <Labelled>
            New value
            <TextLine value={text} onText={setText} placeholder={examples[field]} maxLength={500} />
          </Labelled>
        )}
        <WallField label="When" value={at} onChange={setAt} empty="choose a day" />
        <Said>
          Any other field:{' '}
          <Link className="link" to={`/creatives/${id}`}>
            change it in the form
          </Link>{' '}
          and save it for later there.
        </Said>
        <SubmitFoot onLeave={onClose} busy={plan.isPending}>
          Plan it
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
