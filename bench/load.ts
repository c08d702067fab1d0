import { connect, type Socket } from 'node:net';

/** A steady load on one loopback server over kept connections, in slices: one request at a time a connection. */
export class Load {
  readonly #sockets: Socket[] = [];
  readonly #next: () => Buffer;
  #until = 0;
  #count = 0;
  #faults = 0;
  #open = 0;
  #done: (() => void) | null = null;
  latencies: number[] = [];

  private constructor(next: () => Buffer) {
    this.#next = next;
  }

  /** @param next the bytes of the next request @param wanted the status line's beginning that counts as answered */
  static async open(port: number, connections: number, next: () => Buffer, wanted: string): Promise<Load> {
    const load = new Load(next);
    await Promise.all(
      Array.from(
        { length: connections },
        () =>
          new Promise<void>((resolve, reject) => {
            const socket = connect(port, '127.0.0.1', resolve).once('error', reject).setNoDelay();
            let began = 0;
            let pending = '';
            const send = () => {
              began = performance.now();
              socket.write(load.#next());
            };
            socket.on('data', (chunk) => {
              pending += chunk.toString('latin1');
              const end = pending.indexOf('\r\n\r\n');
              if (end < 0) return;
              const length = Number(/content-length: (\d+)/i.exec(pending.slice(0, end))?.[1] ?? 0);
              if (pending.length < end + 4 + length) return;
              if (pending.startsWith(wanted)) load.#count += 1;
              else load.#faults += 1;
              pending = '';
              load.latencies.push(performance.now() - began);
              if (performance.now() < load.#until) send();
              else if ((load.#open -= 1) === 0) load.#done?.();
            });
            socket.on('gravenel:send', send);
            load.#sockets.push(socket);
          }),
      ),
    );
    return load;
  }

  /** Runs for so many milliseconds. @returns answers a second @throws Error if an answer was another than wanted */
  async slice(milliseconds: number): Promise<number> {
    this.#count = 0;
    this.#faults = 0;
    this.latencies = [];
    this.#open = this.#sockets.length;
    const began = performance.now();
    this.#until = began + milliseconds;
    await new Promise<void>((resolve) => {
      this.#done = resolve;
      this.#sockets.forEach((s) => s.emit('gravenel:send'));
    });
    if (this.#faults > 0) throw new Error(`${this.#faults} answers were not what the bench wants`);
    return (this.#count * 1000) / (performance.now() - began);
  }

  close(): void {
    this.#sockets.forEach((s) => s.destroy());
  }
}

/** Compares two loads in alternating slices after a warm-up. @returns medians and their ratio */
export async function compare(
  ours: Load,
  limit: Load,
  slices: number,
  milliseconds = 500,
): Promise<{ ours: number; limit: number; ratio: number }> {
  for (let i = 0; i < 6; i += 1) {
    await ours.slice(milliseconds);
    await limit.slice(milliseconds);
  }
  const rates: [number[], number[]] = [[], []];
  for (let i = 0; i < slices; i += 1) {
    rates[0].push(await ours.slice(milliseconds));
    rates[1].push(await limit.slice(milliseconds));
  }
  const median = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;
  const [a, b] = rates.map(median) as [number, number];
  return { ours: Math.round(a), limit: Math.round(b), ratio: Number((a / b).toFixed(2)) };
}

export function request(
  method: string,
  path: string,
  headers: Record<string, string> = {},
  body = '',
): Buffer {
  const all = {
    host: '127.0.0.1',
    ...headers,
    ...(body ? { 'content-length': String(Buffer.byteLength(body)) } : {}),
  };
  return Buffer.from(
    `${method} ${path} HTTP/1.1\r\n${Object.entries(all)
      .map(([k, v]) => `${k}: ${v}`)
      .join('\r\n')}\r\n\r\n${body}`,
  );
}
