import { useRef, useState, type ReactNode } from 'react';
import { sizeInWords, tooLargeInWords } from '../../core/text/plain';

/** A link that opens the file chooser; a file may be dropped on what it stands in as well. */
export function Choose({
  label,
  accept,
  most,
  busy,
  onFile,
  onFault,
  children,
}: {
  label: string;
  accept?: string;
  most: number;
  busy: boolean;
  onFile: (file: File) => void;
  onFault: (said: string) => void;
  children: ReactNode;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const take = (file: File | undefined) => {
    if (!file) return;
    if (file.size > most)
      onFault(
        `${file.name} has ${tooLargeInWords(file.size, most)}: at most ${sizeInWords(most)} can be uploaded.`,
      );
    else if (file.size === 0) onFault(`${file.name} is empty.`);
    else onFile(file);
  };
  return (
    <div
      className={over ? 'outline outline-2 outline-copper' : ''}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        take(e.dataTransfer.files[0]);
      }}
    >
      {children}{' '}
      <button type="button" className="link" disabled={busy} onClick={() => input.current?.click()}>
        {busy ? 'uploading…' : label}
      </button>
      <input
        ref={input}
        type="file"
        accept={accept}
        className="hidden"
        aria-label={label}
        onChange={(e) => {
          take(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
    </div>
  );
}
