import { useState } from 'react';
import { draftRate, type DraftOut } from '../../../../contract/setup/rate-book';
import { useAct } from '../../../kit/act';
import { Dialog, SubmitFoot } from '../../../kit/dialog';
import { TextLine } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { Pair } from '../../../kit/layout';
import { Wrong } from '../../../kit/note';
import { useProgramme } from '../../../kit/programme';
import { SelectField } from '../../../kit/select';
import { WallField } from '../../../kit/wall-field';
import { EstimateWords } from './draft';
import { useEstimate } from './estimate';
import { AlsoFields, BandFields, PaymentFields, type RatePart } from './rate-parts';
import {
  bodyOf,
  emptyRate,
  faultsByField,
  paymentsOf,
  rewardOf,
  typedChange,
  type Mode,
  type PlaceOfRate,
  type TypedRate,
} from './rate-typed';

interface Props {
  place: PlaceOfRate;
  draft: DraftOut | null;
  mode: Mode;
  onClose: () => void;
}

/** What is typed, what it would change, and putting it into the draft. */
function useRateForm({ place, draft, mode, onClose }: Props) {
  const { base } = useProgramme();
  const [typed, setTyped] = useState(() => emptyRate(mode));
  const [faults, setFaults] = useState<Record<string, string>>({});
  const act = useAct(draftRate, { quiet: true, done: onClose });
  const reward = rewardOf(typed);
  const payments = paymentsOf(typed, place.event);
  const change = typedChange(place, { ...typed, reward, payments }, base);
  const estimate = useEstimate(draft?.version ?? 0, change);
  // not a component of its own: made anew at each key it would be announced at each key
  const faultAt = (field: string) => (faults[field] ? <Wrong role="alert">{faults[field]}</Wrong> : null);
  return {
    part: {
      typed,
      put: (more: Partial<TypedRate>) => setTyped((all) => ({ ...all, ...more })),
      faultAt,
    },
    estimate,
    refused: faults.reward !== undefined,
    busy: act.isPending,
    submit: () => {
      setFaults({});
      act.mutate({ body: bodyOf(typed, place) }, { onError: (thrown) => setFaults(faultsByField(thrown)) });
    },
  };
}

/** Everything a rate can say: a plain reward or bands, cap, payments, start and end, or an uplift for a time. */
export function RateForm(props: Props) {
  const { place, onClose } = props;
  const { part, estimate, refused, busy, submit } = useRateForm(props);
  const { typed, faultAt } = part;
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={typed.mode === 'base' ? 'Set a rate' : 'Plan an uplift'}
      about={
        <>
          {place.what}, <b className="font-semibold">{place.who}</b>. It goes into your draft; nothing counts
          until the draft is saved.
        </>
      }
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <RewardFields {...part} event={place.event} refused={refused} />
        {faultAt('reward')}
        {faultAt('column')}
        {faultAt('row')}
        {faultAt('what')}
        {faultAt('who')}
        {faultAt('')}
        {typed.kind === 'bands' && <BandFields {...part} />}
        {(typed.kind === 'flat-order' || typed.kind === 'flat-unit') && <AlsoFields {...part} />}
        {place.event === 'renewal' && <PaymentFields {...part} />}
        <TimeFields {...part} />
        <LabelAndCap {...part} />
        <p className="text-ink2">
          <EstimateWords estimate={estimate} />
        </p>
        <SubmitFoot onLeave={onClose} busy={busy}>
          Put into the draft
        </SubmitFoot>
      </form>
    </Dialog>
  );
}

const modes = [
  ['base', 'A rate of the ladder'],
  ['up-to', 'An uplift, up to'],
  ['plus', 'An uplift, on top'],
] as const;

const perWords: Partial<Record<PlaceOfRate['event'], string>> = { lead: 'a lead', click: 'a click' };

/** What it is, and what it pays. */
function RewardFields({
  typed,
  put,
  event,
  refused,
}: RatePart & { event: PlaceOfRate['event']; refused: boolean }) {
  const { base } = useProgramme();
  const { mode, kind, value } = typed;
  const percent = kind === 'percent';
  return (
    <div className="grid grid-cols-3 gap-3">
      <SelectField
        label="What it is"
        value={mode}
        options={modes}
        onPick={(next) => put({ mode: next, kind: kind === 'bands' ? 'percent' : kind })}
      />
      <SelectField
        label="Pays"
        value={kind}
        options={[
          ['percent', 'Percent of the value'],
          ['flat-order', `A flat amount ${perWords[event] ?? 'an order'}`],
          ['flat-unit', 'A flat amount a unit'],
          ...(mode === 'base' ? [['bands', 'By the order’s value'] as const] : []),
        ]}
        onPick={(next) => put({ kind: next })}
      />
      {kind !== 'bands' && (
        <Labelled>
          {percent ? 'Percent' : `Amount in ${base}`}
          <span className="relative block">
            <TextLine
              autoFocus
              value={value}
              onText={(text) => put({ value: text })}
              placeholder={percent ? '12.5' : '6.00'}
              aria-invalid={refused ? true : undefined}
            />
            <span className="pointer-events-none absolute top-[6px] right-3 font-normal text-ink3">
              {percent ? '%' : base}
            </span>
          </span>
        </Labelled>
      )}
    </div>
  );
}

function TimeFields({ typed, put, faultAt }: RatePart) {
  return (
    <>
      <Pair>
        <WallField
          label="Begins"
          value={typed.from}
          onChange={(from) => put({ from })}
          empty="with the draft"
        />
        <WallField
          label="Ends, exclusive"
          value={typed.until}
          onChange={(until) => put({ until })}
          empty="open"
        />
      </Pair>
      {faultAt('from')}
      {faultAt('until')}
    </>
  );
}

function LabelAndCap({ typed, put, faultAt }: RatePart) {
  const { base } = useProgramme();
  const ladder = typed.mode === 'base';
  return (
    <>
      <Pair>
        <Labelled>
          Name, for your eyes only
          <TextLine
            value={typed.label}
            maxLength={80}
            onText={(label) => put({ label })}
            placeholder={ladder ? 'Features the wheel in May' : 'Spring week'}
          />
        </Labelled>
        {ladder && (
          <Labelled>
            At most an order, if you wish
            <TextLine value={typed.cap} onText={(cap) => put({ cap })} placeholder={`20.00 ${base}`} />
          </Labelled>
        )}
      </Pair>
      {faultAt('cap')}
      {faultAt('label')}
    </>
  );
}
