import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import {
  askForMaterial,
  listOwnRequests,
  withdrawRequest,
  type OwnRequest,
} from '../../../contract/equip/requests';
import { surveyOwnMaterial } from '../../../contract/portal/material';
import { creativeKinds, kindWords, type CreativeKind } from '../../../core/material/lists';
import { useAct } from '../../kit/act';
import { asking } from '../../kit/asking';
import { Dialog, SubmitFoot } from '../../kit/dialog';
import { DottedItem } from '../../kit/dotted';
import { FormFault } from '../../kit/form';
import { TextArea, TextLine } from '../../kit/inputs';
import { faultInWords } from '../../kit/keeper';
import { Labelled } from '../../kit/labelled';
import { Pair } from '../../kit/layout';
import { SelectField } from '../../kit/select';
import { State } from '../../kit/state';
import { Day, Small } from '../../kit/text';
import { useLooking } from '../base';

/** Asking for what is missing, and what became of what was asked for. */
export function AskedFor({ onOpen }: { onOpen: (creative: string) => void }) {
  const rows = useQuery(asking(listOwnRequests)).data?.rows ?? [];
  return (
    <section className="mt-8" aria-label="Something is missing">
      <h2>Something is missing?</h2>
      <p className="mt-1 text-ink2">
        A size, a subject, a language: ask for it, and you are told when it is there. <Ask>Ask for it</Ask>
      </p>
      {rows.length > 0 && (
        <ul className="mt-2">
          {rows.map((row) => (
            <RequestLine key={row.id} row={row} onOpen={onOpen} />
          ))}
        </ul>
      )}
    </section>
  );
}

/** Opens the asking; where staff look on, nothing is asked for. */
export function Ask({ children }: { children: string }) {
  const [open, setOpen] = useState(false);
  if (useLooking()) return null;
  return (
    <>
      <button type="button" className="link" onClick={() => setOpen(true)}>
        {children}
      </button>
      {open && <AskDialog onClose={() => setOpen(false)} />}
    </>
  );
}

const states = { open: 'waiting', answered: 'approved', withdrawn: 'withdrawn' } as const;

function RequestLine({ row, onOpen }: { row: OwnRequest; onOpen: (creative: string) => void }) {
  const looking = useLooking();
  const withdraw = useAct(withdrawRequest, { done: () => toast('Withdrawn') });
  return (
    <DottedItem className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
      <span className="min-w-0 flex-1 break-words">
        {kindWords[row.kind][0]}
        {row.size && ` ${row.size}`}: {row.words}{' '}
        <Small>
          <Day at={row.at} />
        </Small>
        {row.answer && (
          <span dir="auto" className="block text-ink2">
            {row.answer}
          </span>
        )}
      </span>
      <span className="flex gap-3">
        {row.creative && (
          <button type="button" className="link" onClick={() => onOpen(row.creative!.id)}>
            {row.creative.name}
          </button>
        )}
        {row.state === 'open' && !looking && (
          <button type="button" className="link" onClick={() => withdraw.mutate({ params: { id: row.id } })}>
            withdraw
          </button>
        )}
        <State is={states[row.state]} word={row.state === 'open' ? 'waiting' : row.state} />
      </span>
    </DottedItem>
  );
}

const nothing = {
  kind: 'banner' as CreativeKind,
  size: '',
  subject: '',
  language: '',
  words: '',
  product: '',
};

function AskDialog({ onClose }: { onClose: () => void }) {
  const products = useQuery(asking(surveyOwnMaterial)).data?.asked ?? [];
  const [typed, setTyped] = useState(nothing);
  const [fault, setFault] = useState<string | null>(null);
  const put = (more: Partial<typeof nothing>) => setTyped((all) => ({ ...all, ...more }));
  const act = useAct(askForMaterial, {
    done: () => {
      toast('Asked: you are told when it is there');
      onClose();
    },
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  return (
    <Dialog open onClose={onClose} title="Ask for material">
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          setFault(null);
          act.mutate({ body: typed });
        }}
      >
        <FormFault>{fault}</FormFault>
        <Pair>
          <SelectField
            label="What"
            value={typed.kind}
            options={creativeKinds.map((k) => [k, kindWords[k][0]] as const)}
            onPick={(kind) => put({ kind })}
          />
          <SelectField
            label="For"
            value={typed.product}
            options={[['', 'the programme'], ...products.map((p) => [p.code, p.name] as const)]}
            onPick={(product) => put({ product })}
          />
          <Labelled>
            Size
            <TextLine
              value={typed.size}
              maxLength={12}
              onText={(size) => put({ size })}
              placeholder="160x600"
            />
          </Labelled>
          <Labelled>
            Language
            <TextLine
              value={typed.language}
              maxLength={12}
              onText={(language) => put({ language })}
              placeholder="fr"
            />
          </Labelled>
        </Pair>
        <Labelled>
          What you need, and where it is to stand
          <TextArea
            rows={3}
            required
            value={typed.words}
            onText={(words) => put({ words })}
            placeholder="A tall one for the column beside my firing log."
            className="mt-1"
          />
        </Labelled>
        <SubmitFoot onLeave={onClose} busy={act.isPending}>
          Ask
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
