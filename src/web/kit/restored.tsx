import { Note } from './note';

/** Says that what was not saved last time is here again, and takes it away when asked to. @param did what was done with it: typed, changed */
export function RestoredNote({ did = 'typed', discard }: { did?: 'typed' | 'changed'; discard: () => void }) {
  return (
    <Note as="div" role="status">
      What you {did} last time and did not save is here again.{' '}
      <button type="button" className="link" onClick={discard}>
        Discard it
      </button>
    </Note>
  );
}
