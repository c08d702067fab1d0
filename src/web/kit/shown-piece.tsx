import type { FileOut } from '../../contract/equip/material';
import type { CreativeKind } from '../../core/material/lists';
import { shownSize } from '../../core/material/sizes';
import { Sandbox } from './sandbox';

/** A piece as a buyer comes upon it. */
export interface PieceShown {
  kind: CreativeKind;
  name: string;
  file: FileOut | null;
  poster: FileOut | null;
  alt: string;
  words: string;
  around: string;
  code: string;
  address: string;
  /** an e-mail as HTML */
  letter: string;
}

/** What a buyer sees: the banner at its size, the words where they are pressed, markup and letters in a frame that nothing leaves. */
export function ShownPiece({ piece }: { piece: PieceShown }) {
  const { kind, name, file, poster } = piece;
  if (kind === 'banner') return file ? <Banner file={file} alt={piece.alt} /> : <Missing what="picture" />;
  if (kind === 'video') return <Video {...{ file, poster, name }} address={piece.address} />;
  if (kind === 'text-link') return <Line words={piece.words} around={piece.around} />;
  const code = kind === 'email' ? piece.letter : piece.code.replaceAll('{link}', '#');
  return code === '' ? (
    <Missing what="text" />
  ) : (
    <Sandbox title={`${name}, as a reader sees it`} code={code} />
  );
}

const Missing = ({ what }: { what: string }) => <p className="text-ink3">No {what} yet.</p>;

function Banner({ file, alt }: { file: FileOut; alt: string }) {
  const size = shownSize({ width: file.width ?? 1, height: file.height ?? 1 });
  return (
    <img
      src={file.url}
      alt={alt}
      {...size}
      className="max-h-[320px] max-w-full border border-rule object-contain object-left"
    />
  );
}

function Video({
  file,
  poster,
  name,
  address,
}: {
  file: FileOut | null;
  poster: FileOut | null;
  name: string;
  address: string;
}) {
  if (file)
    return (
      <video
        controls
        preload="none"
        src={file.url}
        {...(poster ? { poster: poster.url } : {})}
        aria-label={name}
        className="max-h-[260px] max-w-full border border-rule bg-ink"
      />
    );
  return address ? (
    <p className="break-all">
      On another host:{' '}
      <a className="link" href={address} target="_blank" rel="noreferrer">
        {address}
      </a>
    </p>
  ) : (
    <Missing what="video" />
  );
}

function Line({ words, around }: { words: string; around: string }) {
  const [before = '', after = ''] = around.split('{link}');
  return (
    <p dir="auto" className="font-serif text-[15px] leading-[1.5]">
      {before}
      <span className="link-lined">{words || '…'}</span>
      {after}
    </p>
  );
}
