import { useEffect, useState } from 'react';
import { largestVideo, uploadMaterial, type FileOut } from '../../../../contract/equip/material';
import { sizeInWords, tooLargeInWords } from '../../../../core/text/plain';
import { call } from '../../../kit/api';
import { faultInWords } from '../../../kit/keeper';

/** A name out of that of a file: “box-blue.png” → “box blue”. */
const nameOf = (file: File) =>
  file.name
    .replace(/\.[a-z0-9]{2,4}$/i, '')
    .replace(/[-_]+/g, ' ')
    .trim()
    .slice(0, 80) || 'Banner';

/** One file: what became of it on the way. */
export interface Upload {
  name: string;
  file: FileOut | null;
  fault: string | null;
  busy: boolean;
  /** how much of it has left, from 0 to 1 */
  sent: number;
}

interface OnItsWay {
  signal: AbortSignal;
  onSent: (share: number) => void;
}

async function uploaded(file: File, onItsWay: OnItsWay): Promise<FileOut> {
  if (file.size > largestVideo)
    throw new Error(
      `It has ${tooLargeInWords(file.size, largestVideo)}: at most ${sizeInWords(largestVideo)} are taken.`,
    );
  return call(uploadMaterial, { query: { name: file.name.slice(0, 200) }, file, ...onItsWay });
}

const saidOf = (thrown: unknown): string =>
  thrown instanceof Error && thrown.constructor === Error ? thrown.message : faultInWords(thrown);

/** Uploads what was dropped, one after the other; each has an outcome of its own. Whoever leaves ends the one that is on its way. */
export function useUploads(files: File[]): Upload[] {
  const [uploads, setUploads] = useState<Upload[]>(() =>
    files.map((file) => ({ name: nameOf(file), file: null, fault: null, busy: true, sent: 0 })),
  );
  useEffect(() => {
    const gone = new AbortController();
    const { signal } = gone;
    const put = (i: number, more: Partial<Upload>) => {
      if (!signal.aborted) setUploads((all) => all.map((one, n) => (n === i ? { ...one, ...more } : one)));
    };
    const all = async () => {
      for (const [i, file] of files.entries()) {
        if (signal.aborted) return;
        await uploaded(file, { signal, onSent: (sent) => put(i, { sent }) }).then(
          (taken) => put(i, { file: taken, busy: false }),
          (thrown: unknown) => put(i, { fault: saidOf(thrown), busy: false }),
        );
      }
    };
    void all();
    return () => gone.abort();
  }, [files]);
  return uploads;
}
