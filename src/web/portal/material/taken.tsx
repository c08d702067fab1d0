import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import {
  ownLetter,
  readOwnMaterial,
  takeOwnMaterial,
  type OwnCreative,
} from '../../../contract/portal/material';
import { linkWith, subIdNames, type SubIds } from '../../../core/material/copies';
import type { Id } from '../../../core/text/id';
import { addressOf, call } from '../../kit/api';
import { asking } from '../../kit/asking';
import { Copy } from '../../kit/copy';
import { Dialog } from '../../kit/dialog';
import { TextLine } from '../../kit/inputs';
import { Labelled } from '../../kit/labelled';
import { Said } from '../../kit/note';
import { Failed, Skeleton } from '../../kit/place';
import { QrLink } from '../../kit/qr-link';
import { ShownPiece } from '../../kit/shown-piece';
import { Code } from '../../kit/text';
import { useLooking } from '../base';

/** A creative that is looked at: as buyers see it, and to be copied in every way its kind has. */
export function Taken({ id, onClose }: { id: Id<'creative'>; onClose: () => void }) {
  const looking = useLooking();
  const found = useQuery(asking(readOwnMaterial, { params: { id } }));
  useTaken(id, found.data !== undefined && found.data.copies === null && !looking);
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={found.data?.row.name ?? 'A creative'}
      about={aboutOf(found.data)}
    >
      {found.isPending && <Skeleton />}
      {found.error && <Failed fault={found.error} retry={() => void found.refetch()} />}
      {found.data && <Sheet creative={found.data} />}
    </Dialog>
  );
}

/** Its link is made when it is looked at for the first time. */
function useTaken(id: Id<'creative'>, isNeeded: boolean): void {
  const queries = useQueryClient();
  useEffect(() => {
    if (!isNeeded) return;
    void call(takeOwnMaterial, { params: { id } }).then(
      (taken) => queries.setQueryData(asking(readOwnMaterial, { params: { id } }).queryKey, taken),
      () => undefined,
    );
  }, [id, isNeeded, queries]);
}

function aboutOf(creative: OwnCreative | undefined): ReactNode {
  if (!creative) return null;
  const { products, note } = creative.row;
  return (
    <>
      {products.map((p) => p.name).join(', ') || 'The whole programme'}
      {note && (
        <span dir="auto" className="block">
          {note}
        </span>
      )}
    </>
  );
}

function Sheet({ creative }: { creative: OwnCreative }) {
  const { row, copies, alt, code, address, letter } = creative;
  const { kind, name, file, poster } = row;
  const [subIds, setSubIds] = useState<SubIds>({});
  return (
    <>
      <ShownPiece
        piece={{
          ...{ kind, name, file, poster, alt, code, address },
          words: creative.words,
          around: creative.around,
          letter: letter.html,
        }}
      />
      {copies === null ? (
        <Said gap={3}>Its link is made when the affiliate looks at it for the first time.</Said>
      ) : (
        <>
          <Ways creative={creative} link={linkWith(copies.link, subIds)} />
          <SubIdFields subIds={subIds} onChange={setSubIds} />
        </>
      )}
      {creative.leads && (
        <Said gap={3}>
          Leads to <span className="break-all">{creative.leads.replace(/^https?:\/\//, '')}</span>
        </Said>
      )}
    </>
  );
}

/** Everything that can be copied, with the link as it is now. */
function Ways({ creative, link }: { creative: OwnCreative; link: string }) {
  const { copies, row, letter, subjects } = creative;
  const looking = useLooking();
  if (!copies) return null;
  const withLink = (text: string) => text.replaceAll(copies.link, link);
  const inMarkup = (text: string) => text.replaceAll(copies.link, link.replaceAll('&', '&amp;'));
  return (
    <ul className="mt-3">
      <Way name="Link" text={link} />
      {row.kind === 'email' && subjects.map((s) => <Way key={s} name="Subject" text={s} />)}
      {row.kind === 'email' && <Way name="Text" text={withLink(letter.text)} />}
      {row.kind === 'email' && <Way name="HTML" text={inMarkup(letter.html)} />}
      {copies.html && <Way name="HTML" text={inMarkup(copies.html)} />}
      {copies.markdown && <Way name="Markdown" text={withLink(copies.markdown)} />}
      {copies.text !== copies.link && <Way name="Text" text={withLink(copies.text)} />}
      <li className="flex flex-wrap gap-x-4 gap-y-1 pt-2">
        {row.file && (
          <a className="link" href={`${row.file.url}?download=${encodeURIComponent(row.name)}`} download>
            download the file
          </a>
        )}
        {row.kind === 'email' && !looking && (
          <a className="link" href={addressOf(ownLetter, { id: row.id }, { subject: 1 })} download>
            open in a mail program
          </a>
        )}
        <QrLink address={link}>QR code</QrLink>
      </li>
    </ul>
  );
}

function Way({ name, text }: { name: string; text: string }) {
  return (
    <li className="flex items-baseline gap-3 border-b border-rule2 py-[6px]">
      <span className="w-[72px] shrink-0 text-ink3">{name}</span>
      <span className="max-h-[88px] min-w-0 flex-1 overflow-auto break-all whitespace-pre-wrap" tabIndex={0}>
        <Code>{text}</Code>
      </span>
      <Copy text={text} />
    </li>
  );
}

/** Marks of one's own at the link: they stand beside each visit in one's figures. */
function SubIdFields({ subIds, onChange }: { subIds: SubIds; onChange: (subIds: SubIds) => void }) {
  return (
    <details className="mt-3">
      <summary className="cursor-pointer text-ink2">Sub-ids, to tell places of your own apart</summary>
      <div className="mt-1 grid grid-cols-2 gap-2 sm:grid-cols-5">
        {subIdNames.map((name) => (
          <Labelled key={name}>
            {name}
            <TextLine
              value={subIds[name] ?? ''}
              maxLength={100}
              onText={(text) => onChange({ ...subIds, [name]: text })}
            />
          </Labelled>
        ))}
      </div>
    </details>
  );
}
