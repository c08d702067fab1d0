import { runStateWords } from '../../core/payouts/plan';

type Look = 'waiting' | 'under-way' | 'good' | 'refused' | 'gone';

const looks: Record<Look, { mark: string; tone: string }> = {
  waiting: { mark: '', tone: 'text-ochre' },
  'under-way': { mark: 'mark-half', tone: 'text-slate' },
  good: { mark: 'mark-full', tone: 'text-verdigris' },
  refused: { mark: 'mark-barred', tone: 'text-madder' },
  gone: { mark: 'mark-dashed', tone: 'text-ink3' },
};

/** How each state word looks: waits on a person, under way, done well, refused or reversed, ended or paused. */
const states: Record<string, Look> = {
  on: 'good',
  off: 'gone',
  scheduled: 'under-way',
  dropped: 'refused',
  welcome: 'good',
  'ask-first': 'waiting',
  'not-here': 'refused',
  opened: 'under-way',
  accepted: 'good',
  expired: 'gone',
  submitted: 'under-way',
  question: 'waiting',
  listed: 'good',
  published: 'good',
  'in notice': 'under-way',
  approving: 'under-way',
  reopening: 'under-way',
  sending: 'under-way',
  waiting: 'waiting',
  asked: 'under-way',
  applied: 'waiting',
  draft: 'waiting',
  proposed: 'waiting',
  approved: 'good',
  active: 'good',
  live: 'good',
  settled: 'good',
  paid: 'good',
  recorded: 'good',
  sent: 'under-way',
  open: 'waiting',
  unconfirmed: 'waiting',
  reported: 'good',
  confirmed: 'good',
  'set-aside': 'gone',
  coming: 'waiting',
  running: 'good',
  done: 'gone',
  undone: 'gone',
  held: 'under-way',
  cleared: 'good',
  'in-run': 'under-way',
  'already-recorded': 'gone',
  declined: 'refused',
  reversed: 'refused',
  failed: 'refused',
  returned: 'refused',
  contradicts: 'refused',
  refused: 'refused',
  'not-signed': 'refused',
  blocked: 'refused',
  bounced: 'refused',
  paused: 'gone',
  ended: 'gone',
  retired: 'gone',
  withdrawn: 'gone',
  discarded: 'gone',
};

const wordOf: Record<string, string> = {
  ...runStateWords,
  'in-run': 'in run',
  'set-aside': 'set aside',
  'already-recorded': 'repeat, counted once',
  contradicts: 'contradicts',
  'not-signed': 'not signed',
  proposed: 'proposed',
  'ask-first': 'ask first',
  'not-here': 'not here',
};

/** A mark and a word, never colour alone. */
export function State({ is, word }: { is: string; word?: string | undefined }) {
  const look = looks[states[is] ?? 'gone'];
  return (
    <span className={`inline-flex items-center gap-1.5 whitespace-nowrap ${look.tone}`}>
      <i aria-hidden className={`mark ${look.mark}`} />
      {word ?? wordOf[is] ?? is}
    </span>
  );
}

/** The mark alone, where the word stands beside it already. */
export function Mark({ look }: { look: string }) {
  const found = looks[(look in looks ? look : 'waiting') as Look];
  return <i aria-hidden className={`mark ${found.mark} ${found.tone}`} />;
}
