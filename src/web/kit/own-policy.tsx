import type { ReplyOf } from '../../contract/endpoint';
import type { readOwnPolicy } from '../../contract/setup/policy';
import { Button } from './button';
import { Note, Said } from './note';
import { countOfChanges, PolicyChanges, PolicySections } from './policy';
import { Day } from './text';

export type Current = NonNullable<ReplyOf<typeof readOwnPolicy>['current']>;

const ends = {
  remind: 'You will be reminded then.',
  'hold-pay': 'From that day on you are not paid until you have accepted.',
  pause: 'From that day on your account is paused until you have accepted.',
};

/** A version as the affiliate has it whom it is for: accepting, what changes, then the whole. */
export function OwnPolicy({
  policy: p,
  busy,
  onAccept,
}: {
  policy: Current;
  busy: boolean;
  onAccept: () => void;
}) {
  return (
    <>
      <Said>
        Version {p.number}, holds from <Day at={p.holdsFrom} />.
      </Said>
      {p.acceptedAt !== null ? (
        <p role="status" className="mt-3 border-l-[3px] border-verdigris bg-verdigris-wash px-3 py-2">
          You accepted this version on <Day at={p.acceptedAt} />.
        </p>
      ) : (
        <Note as="div" role="status" className="mt-3 flex flex-wrap items-center justify-between gap-3">
          <span>
            You have not accepted this version yet.{' '}
            {p.inNotice && (
              <>
                Please do by <Day at={p.due} />. {ends[p.atEnd]}
              </>
            )}
          </span>
          <Button look="main" busy={busy} onClick={onAccept}>
            Accept version {p.number}
          </Button>
        </Note>
      )}
      {countOfChanges(p.changes) > 0 && (
        <>
          <h2 className="mt-5">What changes for you</h2>
          <PolicyChanges changes={p.changes} />
        </>
      )}
      <div className="mt-6 border-t border-ink" />
      <PolicySections sections={p.sections} />
    </>
  );
}
