import { randomUUID } from 'node:crypto';

export interface Answer<T = Record<string, unknown>> {
  status: number;
  body: T;
  text: string;
  headers: Headers;
}

/** A browser's worth of HTTP: keeps cookies, sends JSON, follows nothing. */
export class Client {
  readonly #cookies = new Map<string, string>();

  constructor(readonly address: string) {}

  /** as a browser sends them */
  get cookies(): string {
    return [...this.#cookies].map(([k, v]) => `${k}=${v}`).join('; ');
  }

  async send<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const answer = await fetch(path.startsWith('http') ? path : this.address + path, {
      method,
      redirect: 'manual',
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(method === 'GET' ? {} : { 'idempotency-key': randomUUID(), origin: this.address }),
        cookie: this.cookies,
        ...headers,
      },
      ...(body === undefined
        ? {}
        : {
            body:
              typeof body === 'string' || body instanceof Uint8Array
                ? (body as BodyInit)
                : JSON.stringify(body),
          }),
    });
    for (const cookie of answer.headers.getSetCookie()) {
      const [pair = ''] = cookie.split(';');
      const at = pair.indexOf('=');
      this.#cookies.set(pair.slice(0, at), pair.slice(at + 1));
    }
    const text = await answer.text();
    let parsed: unknown = null;
    try {
      parsed = JSON.parse(text);
    } catch {
      /* not every answer is JSON */
    }
    return { status: answer.status, body: parsed as T, text, headers: answer.headers };
  }

  get<T = Record<string, unknown>>(path: string): Promise<Answer<T>> {
    return this.send<T>('GET', path);
  }

  post<T = Record<string, unknown>>(path: string, body: unknown = null): Promise<Answer<T>> {
    return this.send<T>('POST', path, body);
  }

  put<T = Record<string, unknown>>(path: string, body: unknown): Promise<Answer<T>> {
    return this.send<T>('PUT', path, body);
  }

  /** Sends the bytes of a file. */
  upload<T = Record<string, unknown>>(path: string, bytes: Uint8Array): Promise<Answer<T>> {
    return this.send<T>('PUT', path, bytes, { 'content-type': 'application/octet-stream' });
  }

  /** Posts a form as a page would. */
  form(path: string, fields: Record<string, string>): Promise<Answer> {
    return this.send('POST', path, new URLSearchParams(fields).toString(), {
      'content-type': 'application/x-www-form-urlencoded',
    });
  }
}
