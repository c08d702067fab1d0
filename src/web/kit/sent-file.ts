interface Asked {
  method: string;
  headers: Record<string, string>;
  signal?: AbortSignal;
}

const parsed = (text: string): unknown => {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
};

/** Sends a file and tells how much of it has left: what `fetch` cannot tell. @throws where no answer came, or it was ended on its way */
export function sent(
  address: string,
  { method, headers, signal }: Asked,
  file: Blob,
  onSent: (share: number) => void,
): Promise<{ ok: boolean; status: number; body: unknown }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const fail = () => reject(new Error('no answer'));
    request.open(method, address);
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
    request.upload.onprogress = ({ loaded, total }) => onSent(total > 0 ? loaded / total : 0);
    request.onload = () => {
      const { status, responseText } = request;
      resolve({ ok: status >= 200 && status < 300, status, body: parsed(responseText) });
    };
    request.onerror = fail;
    request.onabort = fail;
    signal?.addEventListener('abort', () => request.abort());
    if (signal?.aborted) fail();
    else request.send(file);
  });
}
