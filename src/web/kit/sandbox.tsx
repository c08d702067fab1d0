/** What a framed piece may load: pictures and films of ours, its own styles; nothing leaves it. */
const policy = (origin: string) =>
  `default-src 'none'; img-src ${origin} data:; media-src ${origin}; style-src 'unsafe-inline'; font-src data:; form-action 'none'; base-uri 'none'`;

/** Markup in a page of its own, under a policy that lets nothing out. */
export function framedPage(code: string, origin: string): string {
  return `<!doctype html><meta charset="utf-8"><meta http-equiv="Content-Security-Policy" content="${policy(origin)}"><meta name="referrer" content="no-referrer"><style>body{margin:8px;font:14px/1.5 Georgia,serif;color:#1c2430;overflow-wrap:anywhere}img,video{max-width:100%;height:auto}</style>${code}`;
}

interface Props {
  title: string;
  code: string;
  height?: number;
}

/** Markup that somebody wrote, shown in a frame of opaque origin: no script of it runs, nothing of it is sent, and it reaches nothing around it. */
export function Sandbox({ title, code, height = 260 }: Props) {
  return (
    <iframe
      title={title}
      sandbox=""
      referrerPolicy="no-referrer"
      loading="lazy"
      srcDoc={framedPage(code, window.location.origin)}
      className="block w-full border border-rule bg-sheet"
      style={{ height }}
    />
  );
}
