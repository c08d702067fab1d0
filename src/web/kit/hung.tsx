import type { FileOut } from '../../contract/equip/material';
import type { CreativeKind } from '../../core/material/lists';
import { shownSize } from '../../core/material/sizes';

/** Pixels of a drawing for each pixel of a banner, and how large one is drawn at most. */
const scale = 0.3;
const most = { width: 200, height: 150 };
const least = 34;

/** How large a banner is hung: in its true proportions, the large ones as large as there is room. */
export function hungSize(file: Pick<FileOut, 'width' | 'height'>): { width: number; height: number } {
  const real = shownSize({ width: file.width ?? 300, height: file.height ?? 250 });
  const by = Math.min(scale, most.width / real.width, most.height / real.height);
  return {
    width: Math.max(least, Math.round(real.width * by)),
    height: Math.max(10, Math.round(real.height * by)),
  };
}

/** A banner or a video as it hangs in the book. */
export function Hung({
  file,
  alt,
  isVideo = false,
  seconds = null,
}: {
  file: FileOut | null;
  alt: string;
  isVideo?: boolean;
  seconds?: number | null;
}) {
  const size = file ? hungSize(file) : { width: 160, height: 90 };
  return (
    <span className="relative block border border-rule bg-sheet" style={size}>
      {file && (
        <img src={file.url} alt={alt} {...size} loading="lazy" decoding="async" className="block size-full" />
      )}
      {isVideo && (
        <span className="absolute right-1 bottom-1 rounded-sm bg-ink px-1 text-[11px] text-white">
          ▶ {seconds === null ? 'video' : lengthOf(seconds)}
        </span>
      )}
    </span>
  );
}

const lengthOf = (seconds: number) => `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;

const widths: Record<CreativeKind, string> = {
  banner: 'w-[160px]',
  'text-link': 'w-[200px]',
  html: 'w-[200px]',
  video: 'w-[160px]',
  email: 'w-[152px]',
};

/** Words as they hang in the book: a line between quotes, code as code, a letter on a sheet with a folded corner. */
export function HungSheet({ kind, text }: { kind: CreativeKind; text: string }) {
  const look = kind === 'html' ? 'text-[12px]' : 'font-serif text-[13.5px] leading-[1.4]';
  return (
    <span
      dir="auto"
      className={`block border border-rule bg-sheet px-3 py-2 text-left text-ink2 ${widths[kind]} ${look} ${kind === 'email' ? 'folded min-h-[92px]' : ''}`}
    >
      <span className={kind === 'email' ? 'line-clamp-5' : 'line-clamp-3'}>
        {kind === 'text-link' ? `“${text}”` : text}
      </span>
    </span>
  );
}
