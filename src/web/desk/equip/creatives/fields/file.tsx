import { useState } from 'react';
import { toast } from 'sonner';
import {
  largestBanner,
  largestVideo,
  lightenMaterial,
  uploadMaterial,
  type FileOut,
} from '../../../../../contract/equip/material';
import { sizeInWords } from '../../../../../core/text/plain';
import { useAct } from '../../../../kit/act';
import { faultInWords } from '../../../../kit/keeper';
import { FieldName } from '../../../../kit/labelled';
import { Hint, Note, Wrong } from '../../../../kit/note';
import { Choose } from '../../../../kit/upload';
import type { Part } from './bound';

interface Props {
  part: Part;
  field: 'file' | 'poster';
  label: string;
  accept: string;
}

const pictures = 'image/png,image/jpeg,image/gif,image/webp,image/avif';
export const acceptOf = { picture: pictures, video: 'video/mp4' };

/** The file that a field holds, taking another, and a lighter copy of it. */
function useFile({ form, files, addFile, creative }: Part, field: Props['field']) {
  const [fault, setFault] = useState<string | null>(null);
  const hash = form.watch(field);
  const known = hash === null ? null : (files.get(hash) ?? creative?.files[field] ?? null);
  const put = (next: string | null) => form.setValue(field, next, { shouldDirty: true });
  const take = (file: FileOut) => {
    addFile(file);
    put(file.hash);
    form.clearErrors(field);
  };
  const upload = useAct(uploadMaterial, {
    done: take,
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  const lighten = useAct(lightenMaterial, {
    done: (file) => {
      take(file);
      toast(`A copy as WebP, ${sizeInWords(file.bytes)}, takes its place when you save`);
    },
  });
  const send = (file: File) => {
    setFault(null);
    upload.mutate({ query: { name: file.name.slice(0, 200) }, file });
  };
  const message = form.formState.errors[field]?.message;
  return { known, put, send, setFault, fault: fault ?? message, busy: upload.isPending, lighten };
}

type Held = ReturnType<typeof useFile>;

/** The file of a banner or a video, and the poster of a video: chosen, dropped or pasted. */
export function FileField({ part, field, label, accept }: Props) {
  const { disabled } = part;
  const held = useFile(part, field);
  const { known, fault, send } = held;
  return (
    <div
      onPaste={(e) => {
        const [file] = e.clipboardData.files;
        if (file && !disabled) send(file);
      }}
    >
      <FieldName>{label}</FieldName>
      {disabled ? <FileWords file={known} /> : <FileChoice {...{ held, field, accept }} />}
      {fault && <Wrong role="alert">{fault}</Wrong>}
      {!disabled && <Lighter held={held} />}
      {!known && <Hint className="mt-1">What it is, is read from its content.</Hint>}
    </div>
  );
}

function FileChoice({ held, field, accept }: { held: Held } & Pick<Props, 'field' | 'accept'>) {
  const { known, put, send, setFault, busy } = held;
  return (
    <Choose
      label={known ? 'put another in its place' : 'choose a file, or drop it here'}
      accept={accept}
      most={accept === pictures ? largestBanner : largestVideo}
      busy={busy}
      onFault={setFault}
      onFile={send}
    >
      <FileWords file={known} />
      {known && field === 'poster' && (
        <button type="button" className="link" onClick={() => put(null)}>
          remove
        </button>
      )}
    </Choose>
  );
}

/** A heavy picture, and the act that makes it lighter. */
function Lighter({ held: { known, lighten } }: { held: Held }) {
  if (!known?.asWebp) return null;
  return (
    <Note className="mt-1">
      It has {sizeInWords(known.bytes)}, which readers on phones wait for.{' '}
      <button
        type="button"
        className="link"
        disabled={lighten.isPending}
        onClick={() => lighten.mutate({ params: { hash: known.hash } })}
      >
        Make a copy as WebP, {sizeInWords(known.asWebp)}
      </button>
    </Note>
  );
}

function FileWords({ file }: { file: FileOut | null }) {
  if (!file) return null;
  const size = file.width && file.height ? `${file.width} × ${file.height}, ` : '';
  const length = file.seconds === null ? '' : `, ${file.seconds} s`;
  return (
    <>
      {size}
      {file.format}, {file.moving ? 'moving' : 'still'}, {sizeInWords(file.bytes)}
      {length} ·{' '}
    </>
  );
}
