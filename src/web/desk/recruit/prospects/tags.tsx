import { useState } from 'react';
import { toast } from 'sonner';
import { tagProspects } from '../../../../contract/recruit/prospects';
import { createSet } from '../../../../contract/setup/sets';
import { type Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { TextLine } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { SelectField } from '../../../kit/select';
import { setChoices, useSets } from '../../shared/sets';

/** Puts a tag on partners who have not joined; it goes along when they do. */
export function TagDialog({ ids, onClose }: { ids: string[]; onClose: () => void }) {
  const tags = setChoices(useSets(), 'tag');
  const [picked, setTag] = useState<Id<'set'> | null>(null);
  const tag = picked ?? tags[0]?.[0] ?? null;
  const [name, setName] = useState('');
  const back = useAct(tagProspects, { done: () => toast('Taken back') });
  const untag = () => {
    if (tag) back.mutate({ body: { ids, tag, on: false } });
  };
  const put = useAct(tagProspects, {
    done: (r) => {
      onClose();
      toast(`Tagged: ${r.changed}`, {
        duration: 10_000,
        action: { label: 'Undo', onClick: untag },
      });
    },
  });
  const off = useAct(tagProspects, {
    done: (r) => {
      onClose();
      toast(`Tag taken off: ${r.changed}`);
    },
  });
  const make = useAct(createSet, {
    done: (s) => {
      setTag(s.id);
      put.mutate({ body: { ids, tag: s.id, on: true } });
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Tag ${ids.length === 1 ? 'this partner' : `${ids.length} partners`}`}
      about="Tags are yours alone. They go along when somebody joins, and rates can be for a tag."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) make.mutate({ body: { of: 'tag', name, about: '' } });
          else if (tag) put.mutate({ body: { ids, tag, on: true } });
        }}
      >
        <SelectField
          label="Tag"
          autoFocus
          value={tag ?? ''}
          options={tags.length ? tags : [['', 'none yet']]}
          onPick={(id) => setTag(id || null)}
        />
        <Labelled className="mt-2">
          or a new one
          <TextLine value={name} maxLength={60} onText={setName} placeholder="spring fair" className="mt-1" />
        </Labelled>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            disabled={!tag || name.trim() !== ''}
            busy={off.isPending}
            onClick={() => {
              if (tag) off.mutate({ body: { ids, tag, on: false } });
            }}
          >
            Take it off
          </Button>
          <Button
            type="submit"
            look="main"
            disabled={!tag && !name.trim()}
            busy={put.isPending || make.isPending}
          >
            Tag
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
