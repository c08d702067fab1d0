import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { refreshProspects, type listProspects } from '../../../../contract/recruit/prospects';
import { formatAge } from '../../../../core/calendar/format';
import { useAct } from '../../../kit/act';
import { useProgramme } from '../../../kit/programme';
import { Small } from '../../../kit/text';
import { useMay } from '../../roles';

type RegistryCopy = ReplyOf<typeof listProspects>['copy'];

const readInWords = (doneAt: number, now: number) => {
  const age = formatAge(doneAt, now);
  return age === 'now' ? ', read just now' : `, read ${age} ago`;
};

/** Our copy of the registry: how old it is, what keeps it from being read, and reading it again. */
export function CopyState({ copy }: { copy: RegistryCopy }) {
  const { now } = useProgramme();
  const may = useMay();
  return (
    <Small below>
      {copy.fault ? <CopyFault copy={copy} now={now} /> : copy.copying && 'The registry is being read. '}
      {copy.partners.toLocaleString('en-GB')} partners in our copy
      {copy.doneAt && !copy.fault ? readInWords(copy.doneAt, now) : ''}
      {copy.registry && may(refreshProspects) && <ReadAgain />}
    </Small>
  );
}

function CopyFault({ copy, now }: { copy: RegistryCopy; now: number }) {
  return (
    <span className="text-ochre">
      {copy.fault} since {formatAge(copy.faultAt ?? 0, Date.now())}. This is our copy
      {copy.doneAt ? ` of ${formatAge(copy.doneAt, now)} ago` : ''}; it is tried again by itself.{' '}
    </span>
  );
}

function ReadAgain() {
  const refresh = useAct(refreshProspects, {
    done: (c) => toast(c.fault ? c.fault : `Read: ${c.partners.toLocaleString('en-GB')} partners`),
  });
  return (
    <>
      {' '}
      ·{' '}
      <button type="button" className="link" disabled={refresh.isPending} onClick={() => refresh.mutate({})}>
        {refresh.isPending ? 'reading…' : 'read again'}
      </button>
    </>
  );
}
