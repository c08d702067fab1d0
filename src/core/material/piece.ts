/** What a piece of HTML holds, as far as it matters to who puts it on a page. */
export interface PieceFacts {
  /** how often {link} stands in it */
  links: number;
  scripts: number;
  /** attributes that run a script: onclick, javascript: */
  handlers: number;
  frames: number;
  /** hosts of what it loads, other than the merchant’s own and ours */
  foreignHosts: readonly string[];
  /** hosts that its forms send to, other than the merchant’s own and ours */
  formHosts: readonly string[];
}

/** Bytes that a piece of HTML may have. */
export const mostPieceBytes = 100_000;

/** Why a piece cannot be taken: no link would earn, or what readers type would go elsewhere. */
export function pieceFaults({ links, formHosts }: PieceFacts): string[] {
  const faults: string[] = [];
  if (links === 0) faults.push('{link} is missing: without it no click leads anywhere and nobody earns');
  for (const host of formHosts)
    faults.push(`a form sends what readers type to ${host}, which is not one of your hosts`);
  return faults;
}

const several = (n: number, one: string, many: string) => (n === 1 ? one : `${n} ${many}`);

/** What who puts it on a page should know beforehand. */
export function pieceAdvice({ scripts, handlers, frames, foreignHosts }: PieceFacts): string[] {
  const advice: string[] = [];
  if (scripts + handlers > 0)
    advice.push(
      `It runs ${several(scripts + handlers, 'a script', 'scripts')}: many sites and every mail program leave scripts out, and nothing of it runs in previews here.`,
    );
  if (frames > 0) advice.push(`It opens ${several(frames, 'a frame', 'frames')} of another page.`);
  if (foreignHosts.length > 0)
    advice.push(
      `It loads from ${foreignHosts.join(', ')}: readers are seen there, and it breaks when that host does.`,
    );
  return advice;
}
