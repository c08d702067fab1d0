import type { PracticeAnswer } from '../../core/recruiting/practices';
import { AnswerChoice } from '../kit/answers';
import { Button } from '../kit/button';
import { Choice } from '../kit/choice';
import { Confirm } from '../kit/confirm';
import { Copy } from '../kit/copy';
import { Dialog, DialogFoot } from '../kit/dialog';
import { useKeys } from '../kit/keys';
import { Menu, TickMenu } from '../kit/menu';
import { Pick } from '../kit/pick';
import { QrLink } from '../kit/qr-link';
import { ReasonDialog } from '../kit/reason';
import { Held, type Piece } from './shown';

const sorts = [
  ['name', 'by name'],
  ['day', 'by day'],
] as const;

function KeysShown() {
  const keys = useKeys([{ key: 'j', what: 'next product', act: () => undefined }]);
  return (
    <p>
      ? lists them.
      {keys}
    </p>
  );
}

function Asked({ danger }: { danger: boolean }) {
  return (
    <Held first={false}>
      {(open, set) => (
        <>
          <Button onClick={() => set(true)}>{danger ? 'Decline…' : 'Approve…'}</Button>
          <Confirm
            open={open}
            onClose={() => set(false)}
            title={danger ? 'Decline a commission' : 'Approve a run'}
            about="10 payees, €700.66 in all."
            act={danger ? 'Decline it' : 'Approve it'}
            danger={danger}
            onAct={() => set(false)}
          />
        </>
      )}
    </Held>
  );
}

function Reasoned({ required }: { required: boolean }) {
  return (
    <Held first={false}>
      {(open, set) => (
        <>
          <Button onClick={() => set(true)}>{required ? 'Block…' : 'Pause…'}</Button>
          {open && (
            <ReasonDialog
              onClose={() => set(false)}
              title={required ? 'Block Loam Letters' : 'Pause Loam Letters'}
              about="Links lead on and earn nothing."
              act={required ? 'Block' : 'Pause'}
              danger={required}
              required={required}
              onAct={() => set(false)}
              example="The same person under another name"
            />
          )}
        </>
      )}
    </Held>
  );
}

/** What is done: buttons, menus, what is asked before an act. */
export const acts: Piece[] = [
  {
    file: 'button',
    states: [
      [
        'looks',
        <p key="a" className="flex flex-wrap gap-2">
          <Button look="main" keyName="A">
            Approve
          </Button>
          <Button>Leave it</Button>
          <Button look="bare">more</Button>
          <Button look="danger">Decline</Button>
        </p>,
      ],
      [
        'under way, though nothing else holds it back',
        <Button key="b" look="main" busy disabled={false}>
          Approve
        </Button>,
      ],
      [
        'not now',
        <Button key="c" disabled>
          Save
        </Button>,
      ],
    ],
  },
  {
    file: 'reason',
    states: [
      ['words are needed', <Reasoned key="a" required />],
      ['words if one wishes', <Reasoned key="b" required={false} />],
    ],
  },
  {
    file: 'confirm',
    states: [
      ['an act', <Asked key="a" danger={false} />],
      ['one that takes away', <Asked key="b" danger />],
    ],
  },
  {
    file: 'dialog',
    states: [
      [
        'in the middle',
        <Held key="a" first={false}>
          {(open, set) => (
            <>
              <Button onClick={() => set(true)}>Open…</Button>
              <Dialog
                open={open}
                onClose={() => set(false)}
                title="A letter"
                about="Nobody is told yet."
                wide
              >
                <p>Its text.</p>
                <DialogFoot>
                  <Button onClick={() => set(false)}>Leave it</Button>
                </DialogFoot>
              </Dialog>
            </>
          )}
        </Held>,
      ],
    ],
  },
  {
    file: 'menu',
    states: [
      ['of acts', <Menu key="a" trigger={<Button>More</Button>} items={sorts} onPick={() => undefined} />],
      [
        'of ticks',
        <Held key="b" first={['name']}>
          {(v, set) => (
            <TickMenu trigger={<Button>Columns</Button>} items={sorts} ticked={v} onChange={set} />
          )}
        </Held>,
      ],
    ],
  },
  {
    file: 'answers',
    states: [
      [
        'of a practice',
        <Held<PracticeAnswer | null> key="a" first={null}>
          {(v, set) => <AnswerChoice name="gallery" label="Answer" value={v} onPick={set} />}
        </Held>,
      ],
    ],
  },
  {
    file: 'choice',
    states: [
      [
        'a word of a sentence',
        <Held key="a" first="name">
          {(v, set) => (
            <p>
              sorted <Choice label="Sorted" value={v} options={sorts} onChange={set} />
            </p>
          )}
        </Held>,
      ],
    ],
  },
  {
    file: 'pick',
    states: [
      [
        'somebody by a few letters',
        <p key="a">
          beside{' '}
          <Pick
            label="Beside"
            find={(q) =>
              Promise.resolve(
                q === 'zz' ? [] : [{ id: 'a', name: 'Loam Letters', sub: 'loamletters.example' }],
              )
            }
            onPick={() => undefined}
          >
            an affiliate
          </Pick>
        </p>,
      ],
    ],
  },
  {
    file: 'qr-link',
    states: [['an address', <QrLink key="q" address="http://127.0.0.1:4310/join" />]],
  },
  {
    file: 'copy',
    states: [
      [
        'a text',
        <p key="a">
          WHEEL-1 <Copy text="WHEEL-1" />
        </p>,
      ],
    ],
  },
  { file: 'keys', states: [['of a place', <KeysShown key="a" />]] },
];
