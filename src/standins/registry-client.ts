import {
  RegistryRefusal,
  type OtherEntry,
  type RegistryEvent,
  type RegistryPartner,
  type RegistryPort,
} from '../server/ground/ports';

/** The registry port over HTTP, as to an outside service. @param address without a trailing slash */
export function registryClient(address: string): RegistryPort {
  const ask = async <T>(path: string, body?: unknown): Promise<T> => {
    let answer: Response;
    try {
      answer = await fetch(`${address}/registry/v1${path}`, {
        signal: AbortSignal.timeout(10_000),
        ...(body === undefined
          ? {}
          : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      });
    } catch (cause) {
      throw new Error('The registry does not answer', { cause });
    }
    const refused = answer.status === 404 || answer.status === 422;
    if (!answer.ok)
      throw new (refused ? RegistryRefusal : Error)(
        `The registry answered ${answer.status}: ${((await answer.json().catch(() => null)) as { said?: string } | null)?.said ?? 'nothing more'}`,
      );
    return (await answer.json()) as T;
  };
  return {
    partners: (after, changedSince) =>
      ask<{ rows: RegistryPartner[]; next: string | null }>(
        `/partners?${new URLSearchParams({ ...(after === null ? {} : { after }), ...(changedSince === null ? {} : { changed_since: String(changedSince) }) }).toString()}`,
      ),
    invite: async (invitation) => {
      await ask('/invitations', invitation);
    },
    submit: async (entry) => {
      await ask('/entries', entry);
    },
    answer: async (entry, answer) => {
      await ask(`/entries/${encodeURIComponent(entry)}/answers`, answer);
    },
    others: (category) => ask<OtherEntry[]>(`/entries?${new URLSearchParams({ category }).toString()}`),
    events: (after, at) =>
      ask<RegistryEvent[]>(
        `/events?${new URLSearchParams({ after: String(after), at: String(at) }).toString()}`,
      ),
  };
}
