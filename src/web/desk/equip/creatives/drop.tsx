import { useState } from 'react';
import { toast } from 'sonner';
import { createCreative } from '../../../../contract/equip/creatives';
import { largestBanner, largestVideo } from '../../../../contract/equip/material';
import { momentOfWall } from '../../../../core/calendar/wall';
import { emptyCreative } from '../../../../core/material/creative';
import { counted } from '../../../../core/text/counted';
import { isId } from '../../../../core/text/id';
import { sizeInWords } from '../../../../core/text/plain';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { Hung } from '../../../kit/hung';
import { TextLine } from '../../../kit/inputs';
import { faultInWords, newKeeper } from '../../../kit/keeper';
import { Labelled } from '../../../kit/labelled';
import { Pair, Row } from '../../../kit/layout';
import { Hint, Wrong } from '../../../kit/note';
import { useProgramme } from '../../../kit/programme';
import { useRefresh } from '../../../kit/refresh';
import { SelectField } from '../../../kit/select';
import { WallField } from '../../../kit/wall-field';
import type { ProductChoice } from './book-page';
import { useUploads, type Upload } from './uploads';

interface Props {
  files: File[];
  products: readonly ProductChoice[];
  onClose: () => void;
}

/** Files that were dropped, chosen or pasted: each with its outcome, and what those that are taken have in common. */
export function Dropping({ files, products, onClose }: Props) {
  const uploads = useUploads(files);
  const taken = uploads.filter((u) => u.file !== null);
  const busy = uploads.some((u) => u.busy);
  const form = useMaking(uploads, onClose);
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={
        busy
          ? `Uploading ${counted(files.length, 'file')}`
          : `${counted(taken.length, 'file')} of ${files.length} taken`
      }
      about={`What a file is, is read from its content. Banners up to ${sizeInWords(largestBanner)}, videos up to ${sizeInWords(largestVideo)}.`}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void form.make();
        }}
      >
        <FormFault>{form.fault}</FormFault>
        <ul className="max-h-[30vh] space-y-2 overflow-auto" tabIndex={0} aria-label="Files">
          {uploads.map((upload, i) => (
            <UploadLine
              key={i}
              upload={upload}
              original={files[i]!.name}
              name={form.names[i] ?? upload.name}
              onName={(name) => form.setName(i, name)}
            />
          ))}
        </ul>
        <Pair className="mt-3">
          <SelectField
            label="For"
            value={form.product}
            options={[
              ...products.map((p) => [p.id, p.name] as const),
              ['programme', 'the whole programme'] as const,
            ]}
            onPick={form.setProduct}
          />
          <Labelled>
            Subject, if you wish
            <TextLine value={form.subject} onText={form.setSubject} maxLength={40} placeholder="Easter" />
          </Labelled>
          {form.product === 'programme' && (
            <Labelled>
              Landing page
              <TextLine
                value={form.landing}
                onText={form.setLanding}
                placeholder="https://shop.quernstone.example/"
              />
            </Labelled>
          )}
          <WallField label="Begins" value={form.from} onChange={form.setFrom} empty="at once" />
        </Pair>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={busy || form.busy} disabled={busy || taken.length === 0}>
            Make {counted(taken.length, 'creative')}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

/** What the new creatives have in common, their names, and making them. */
function useMaking(uploads: Upload[], onClose: () => void) {
  const { zone } = useProgramme();
  const refresh = useRefresh();
  const [names, setNames] = useState<Record<number, string>>({});
  const [product, setProduct] = useState('');
  const [subject, setSubject] = useState('');
  const [landing, setLanding] = useState('');
  const [from, setFrom] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [keepers] = useState(() => uploads.map(newKeeper));
  const [made, setMade] = useState<ReadonlySet<number>>(new Set());
  const makeOne = async (upload: Upload, i: number) => {
    const body = {
      ...emptyCreative,
      products: isId(product, 'product') ? [product] : [],
      subjects: [],
      kind: upload.file!.type.startsWith('video/') ? ('video' as const) : ('banner' as const),
      name: names[i] ?? upload.name,
      file: upload.file!.hash,
      alt: upload.file!.type.startsWith('video/') ? '' : (names[i] ?? upload.name),
      from: momentOfWall(from, zone),
      ...{ subject, landing },
    };
    await keepers[i]!.send(undefined, [body], (key) => call(createCreative, { body, key }));
  };
  const make = async () => {
    setFault(null);
    if (product === '') return setFault('For: choose a product, or the whole programme.');
    setBusy(true);
    const done = new Set(made);
    const faults: string[] = [];
    for (const [i, upload] of uploads.entries()) {
      if (upload.file === null || done.has(i)) continue;
      try {
        await makeOne(upload, i);
        done.add(i);
      } catch (thrown) {
        faults.push(`${names[i] ?? upload.name}: ${faultInWords(thrown)}`);
      }
    }
    setMade(done);
    setBusy(false);
    void refresh(createCreative);
    if (faults.length) return setFault([...new Set(faults)].join(' '));
    toast(`${counted(done.size, 'creative')} made`);
    return onClose();
  };
  return {
    ...{ names, product, setProduct, subject, setSubject, landing, setLanding, from, setFrom },
    ...{ fault, busy, make },
    setName: (i: number, name: string) => setNames((all) => ({ ...all, [i]: name })),
  };
}

/** How much of a file has left. */
function Sent({ share }: { share: number }) {
  return (
    <Row>
      <progress value={share} max={1} className="h-[6px] w-[160px] accent-copper" aria-label="Uploading" />
      <Hint>{share < 1 ? `${Math.floor(share * 100)} %` : 'being looked at…'}</Hint>
    </Row>
  );
}

function UploadLine({
  upload,
  original,
  name,
  onName,
}: {
  upload: Upload;
  original: string;
  name: string;
  onName: (name: string) => void;
}) {
  const { file, fault, busy } = upload;
  return (
    <li className="flex items-center gap-3">
      <span className="flex w-[84px] shrink-0 items-center justify-center overflow-hidden">
        {file && (
          <Hung
            file={file.type.startsWith('video/') ? null : file}
            alt=""
            isVideo={file.type.startsWith('video/')}
            seconds={file.seconds}
          />
        )}
      </span>
      <span className="min-w-0 flex-1">
        {file ? (
          <TextLine aria-label={`Name of ${original}`} value={name} maxLength={80} onText={onName} />
        ) : (
          <b className="block truncate font-semibold">{original}</b>
        )}
        {fault && <Wrong role="alert">{fault}</Wrong>}
        {busy && <Sent share={upload.sent} />}
        {file && (
          <Hint>
            {[
              file.width && file.height ? `${file.width} × ${file.height}` : '',
              `${file.format}, ${file.moving ? 'moving' : 'still'}`,
              sizeInWords(file.bytes),
              file.asWebp ? `as WebP ${sizeInWords(file.asWebp)}` : '',
            ]
              .filter(Boolean)
              .join(' · ')}
          </Hint>
        )}
      </span>
    </li>
  );
}
