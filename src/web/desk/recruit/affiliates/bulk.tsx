import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { BodyOf, ReplyOf } from '../../../../contract/endpoint';
import { doBulk, previewBulk, undoBulk, type bulkKinds } from '../../../../contract/recruit/roster';
import type { SetOut } from '../../../../contract/setup/sets';
import { partnerKindList } from '../../../../core/recruiting/kinds';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Labelled } from '../../../kit/labelled';
import { useProgramme } from '../../../kit/programme';
import { BeforeAfter } from '../../shared/before-after';
import { laterInWords, NoticeNote } from '../../shared/notice';

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

/** An act on many: what it is to be, whom it changes, terms before and after, and undo afterwards. */
export function BulkDialog({
  what,
  whom,
  count,
  sets,
  staff,
  onClose,
  onDone,
}: {
  what: What;
  whom: Whom;
  count: number;
  sets: SetOut[];
  staff: { id: string; name: string }[];
  onClose: () => void;
  onDone: () => void;
}) {
  const of = { group: 'group', card: 'card', 'tag-on': 'tag', 'tag-off': 'tag' }[what as 'group'];
  const options: (readonly [string, string])[] = of
    ? [
        ...(what === 'group' ? [['', 'no group'] as const] : []),
        ...sets.filter((s) => s.of === of).map((s) => [s.id, s.name] as const),
      ]
    : what === 'kind'
      ? [['', 'none'], ...partnerKindList.map((k) => [k, k] as const)]
      : what === 'looked-after'
        ? [['', 'nobody'], ...staff.map((s) => [s.id, s.name] as const)]
        : [];
  const [to, setTo] = useState(options.find(([id]) => id !== '')?.[0] ?? '');
  const [view, setView] = useState<ReplyOf<typeof previewBulk> | null>(null);
  const { mutate: look } = useAct(previewBulk, { done: setView });
  const { day } = useProgramme();
  const undo = useAct(undoBulk, {
    done: (r) =>
      toast(`Taken back for ${r.done}${r.passed ? `; ${r.passed} were changed since and stay` : ''}`),
  });
  const act = useAct(doBulk, {
    done: (r) => {
      onDone();
      toast(
        [
          `${said[what]}: ${r.done - (r.later?.count ?? 0)}`,
          laterInWords(r.later, day),
          r.passed ? `${r.passed} passed over` : '',
        ]
          .filter(Boolean)
          .join('; '),
        {
          duration: 10_000,
          ...(r.id
            ? { action: { label: 'Undo', onClick: () => undo.mutate({ params: { id: r.id! } }) } }
            : {}),
        },
      );
    },
  });
  const body = JSON.stringify({ ...whom, what, to: to || null });
  const nothing = options.length === 0 && of !== undefined;
  useEffect(() => {
    if (!nothing) look({ body: JSON.parse(body) as BodyOf<typeof previewBulk> });
  }, [body, look, nothing]);
  return (
    <Dialog
      open
      onClose={onClose}
      wide={!!view?.sample.length}
      title={`${titles[what]}: ${count.toLocaleString('en-GB')} ${count === 1 ? 'affiliate' : 'affiliates'}`}
      about={
        what === 'pause'
          ? 'Links go on leading buyers to the shop and earn nothing while paused.'
          : of
            ? `${view?.later && view.later.count === view.count ? `From ${day(view.later.from)} on` : 'From now on'}. What is granted already keeps its terms.`
            : ''
      }
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate({ body: JSON.parse(body) as BodyOf<typeof doBulk> });
        }}
      >
        {nothing ? (
          <p>There is no {of} yet: make one under the rate book’s cards, groups and tags.</p>
        ) : (
          options.length > 0 && (
            <Labelled>
              {titles[what]}
              <select
                autoFocus
                value={to}
                onChange={(e) => setTo(e.target.value)}
                className="mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink"
              >
                {options.map(([id, name]) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>
            </Labelled>
          )
        )}
        {view && (
          <p role="status" className="mt-2 text-ink2">
            <b className="text-ink">{view.count.toLocaleString('en-GB')}</b>{' '}
            {view.count === 1 ? 'changes' : 'change'}
            {view.same
              ? `, ${view.same.toLocaleString('en-GB')} ${view.same === 1 ? 'is' : 'are'} so already`
              : ''}
            {view.passed.length
              ? `; passed over: ${view.passed
                  .slice(0, 5)
                  .map((p) => `${p.name}, who ${p.why}`)
                  .join('; ')}${view.passed.length > 5 ? ` and ${view.passed.length - 5} more` : ''}`
              : ''}
            .
          </p>
        )}
        {view && view.sample.length > 0 && <BeforeAfter of={view.sample} total={view.count} />}
        {view && <NoticeNote of={view.later} />}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" disabled={!view || view.count === 0} busy={act.isPending}>
            {titles[what]}
            {view && view.count > 0 ? `, ${view.count.toLocaleString('en-GB')}` : ''}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
