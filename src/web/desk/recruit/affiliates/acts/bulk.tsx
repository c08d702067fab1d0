import { useState } from 'react';
import { toast } from 'sonner';
import { type BodyOf, type ReplyOf } from '../../../../../contract/endpoint';
import { doBulk, previewBulk, undoBulk } from '../../../../../contract/recruit/roster';
import { type SetOut } from '../../../../../contract/setup/sets';
import { partnerKindList } from '../../../../../core/recruiting/kinds';
import type { bulkKinds } from '../../../../../core/recruiting/lists';
import { counted } from '../../../../../core/text/counted';
import { useAct } from '../../../../kit/act';
import { Button } from '../../../../kit/button';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { Said } from '../../../../kit/note';
import { usePreview } from '../../../../kit/preview';
import { useProgramme } from '../../../../kit/programme';
import { SelectField } from '../../../../kit/select';
import { BeforeAfter } from '../../../shared/before-after';
import { laterInWords, NoticeNote } from '../../../shared/notice';
import { setChoices, useSets } from '../../../shared/sets';

type What = (typeof bulkKinds)[number];

export type Whom = Pick<BodyOf<typeof doBulk>, 'ids' | 'filter'>;

const titles: Record<What, string> = {
  group: 'Put into a group',
  card: 'Put on a rate card',
  'tag-on': 'Tag',
  'tag-off': 'Take a tag off',
  pause: 'Pause',
  resume: 'Resume',
  'looked-after': 'Looked after by',
  kind: 'Kind of partner',
};

const said: Record<What, string> = {
  group: 'Grouped',
  card: 'On the card',
  'tag-on': 'Tagged',
  'tag-off': 'Tag taken off',
  pause: 'Paused',
  resume: 'Resumed',
  'looked-after': 'Looked after',
  kind: 'Sorted',
};

export interface BulkProps {
  what: What;
  whom: Whom;
  count: number;
  staff: { id: string; name: string }[];
  onClose: () => void;
  onDone: () => void;
}

type View = ReplyOf<typeof previewBulk>;
type Options = readonly (readonly [string, string])[];

/** What kind of set an act puts somebody into. */
const setKindOf: Partial<Record<What, SetOut['of']>> = {
  group: 'group',
  card: 'card',
  'tag-on': 'tag',
  'tag-off': 'tag',
};

/** What can be chosen for an act; nothing for one that needs no choice. */
function optionsOf(what: What, sets: SetOut[], staff: BulkProps['staff']): Options {
  const kind = setKindOf[what];
  if (kind) return [...(what === 'group' ? [['', 'no group'] as const] : []), ...setChoices(sets, kind)];
  if (what === 'kind') return [['', 'none'], ...partnerKindList.map((k) => [k, k] as const)];
  if (what === 'looked-after') return [['', 'nobody'], ...staff.map((s) => [s.id, s.name] as const)];
  return [];
}

/** What is chosen before anybody chooses. */
const firstOf = (options: Options) => options.find(([id]) => id !== '')?.[0] ?? '';

/** The act itself; what was done is said with a way back. */
function useBulk(what: What, onDone: () => void) {
  const { day } = useProgramme();
  const undo = useAct(undoBulk, {
    done: (r) => {
      const parts = [
        `Taken back for ${r.done - (r.later?.count ?? 0)}`,
        laterInWords(r.later, day),
        r.passed ? `${r.passed} were changed since and stay` : '',
      ];
      toast(parts.filter(Boolean).join('; '));
    },
  });
  return useAct(doBulk, {
    done: (r) => {
      onDone();
      const parts = [
        `${said[what]}: ${r.done - (r.later?.count ?? 0)}`,
        laterInWords(r.later, day),
        r.passed ? `${r.passed} passed over` : '',
      ];
      const { id } = r;
      toast(parts.filter(Boolean).join('; '), {
        duration: 10_000,
        ...(id ? { action: { label: 'Undo', onClick: () => undo.mutate({ params: { id } }) } } : {}),
      });
    },
  });
}

/** An act on many: what it is to be, whom it changes, terms before and after, and undo afterwards. */
export function BulkDialog({ what, whom, count, staff, onClose, onDone }: BulkProps) {
  const options = optionsOf(what, useSets(), staff);
  const [picked, setPicked] = useState<string | null>(null);
  const to = picked ?? firstOf(options);
  const nothing = options.length === 0 && what in setKindOf;
  const body = { ...whom, what, to: to || null };
  const { view, fault } = usePreview(previewBulk, nothing ? null : body, { wait: 0 });
  const act = useBulk(what, onDone);
  const changing = view?.count ?? 0;
  return (
    <Dialog
      open
      onClose={onClose}
      wide={!!view?.sample.length}
      title={`${titles[what]}: ${counted(count, 'affiliate')}`}
      about={<About what={what} view={view} />}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate({ body });
        }}
      >
        <FormFault>{fault}</FormFault>
        {nothing && (
          <p>There is no {setKindOf[what]} yet: make one under the rate book’s cards, groups and tags.</p>
        )}
        {options.length > 0 && (
          <SelectField label={titles[what]} autoFocus value={to} options={options} onPick={setPicked} />
        )}
        {view && <Consequences view={view} />}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" disabled={changing === 0} busy={act.isPending}>
            {titles[what]}
            {changing > 0 ? `, ${changing.toLocaleString('en-GB')}` : ''}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

/** From when it holds. */
function About({ what, view }: { what: What; view: View | null }) {
  const { day } = useProgramme();
  if (what === 'pause') return <>Links go on leading buyers to the shop and earn nothing while paused.</>;
  if (!(what in setKindOf)) return null;
  const later = view?.later && view.later.count === view.count ? view.later : null;
  return (
    <>{later ? `From ${day(later.from)} on` : 'From now on'}. What is granted already keeps its terms.</>
  );
}

/** Whom it changes, who is passed over and why, and terms before and after. */
function Consequences({ view }: { view: View }) {
  const passed = view.passed.slice(0, 5).map((p) => `${p.name}, who ${p.why}`);
  const more = view.passed.length > 5 ? ` and ${view.passed.length - 5} more` : '';
  return (
    <>
      <Said role="status" gap={2}>
        <b className="text-ink">{view.count.toLocaleString('en-GB')}</b>{' '}
        {view.count === 1 ? 'changes' : 'change'}
        {view.same ? `, ${counted(view.same, 'is', 'are')} so already` : ''}
        {passed.length ? `; passed over: ${passed.join('; ')}${more}` : ''}.
      </Said>
      {view.sample.length > 0 && <BeforeAfter changes={view.sample} total={view.count} />}
      <NoticeNote notice={view.later} />
    </>
  );
}
