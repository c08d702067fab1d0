import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { type BodyOf } from '../../../contract/endpoint';
import { listTemplates, removeTemplate, saveTemplate } from '../../../contract/recruit/letters';
import type { Id } from '../../../core/text/id';
import { useAct } from '../../kit/act';
import { asking } from '../../kit/asking';
import { Button } from '../../kit/button';
import { Select } from '../../kit/select';

interface Text {
  subject: string;
  body: string;
}

interface Props {
  use: BodyOf<typeof saveTemplate>['use'];
  text: Text;
  /** the text can be kept: there is something in it */
  ready: boolean;
  onTake: (text: Text) => void;
  /** the template that was taken can be removed from here */
  removable?: boolean;
}

/** Texts that were kept by a name: one is taken, the one at hand is kept, or takes the place of the one by the same name. */
export function Templates({ use, text, ready, onTake, removable = false }: Props) {
  const [name, setName] = useState('');
  const [picked, setPicked] = useState<Id<'template'> | ''>('');
  const templates = useQuery(asking(listTemplates));
  const keep = useAct(saveTemplate, {
    done: (t) => {
      setName('');
      toast(`Kept as “${t.name}”`);
    },
  });
  const drop = useAct(removeTemplate, { done: () => toast('The template is removed') });
  const kept = (templates.data?.rows ?? []).filter((t) => t.use === use);
  const taken = kept.find((t) => t.name.toLowerCase() === name.trim().toLowerCase());
  const take = (id: Id<'template'> | '') => {
    if (removable) setPicked(id);
    const template = kept.find((t) => t.id === id);
    if (template) onTake({ subject: template.subject, body: template.body });
  };
  return (
    <p className="flex gap-2">
      <Select
        label="Template"
        value={picked}
        options={[
          ['' as const, kept.length ? 'Take a template…' : 'No template kept yet'],
          ...kept.map((t) => [t.id, t.name] as const),
        ]}
        onPick={take}
        className="min-w-0 flex-1"
      />
      {picked && (
        <Button
          onClick={() => {
            drop.mutate({ params: { id: picked } });
            setPicked('');
          }}
        >
          Remove it
        </Button>
      )}
      <input
        aria-label="Keep as template"
        placeholder="Keep as…"
        maxLength={60}
        value={name}
        onChange={(e) => setName(e.target.value)}
        className={`rounded-sm border border-rule px-2 ${removable ? 'w-[140px]' : 'w-[110px]'}`}
      />
      <Button
        disabled={!name.trim() || !ready}
        busy={keep.isPending}
        onClick={() =>
          keep.mutate({ body: { use, name, ...text, ...(taken ? { replaces: taken.version } : {}) } })
        }
      >
        {taken ? 'Replace' : 'Keep'}
      </Button>
    </p>
  );
}
