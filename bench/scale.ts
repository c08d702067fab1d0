import { fork, spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { Client } from '../scripts/journey/client';
import { built, root } from '../scripts/lib/prepare.mjs';
import { freePorts } from '../tests/helpers/free-ports';
import { questionsOf, type Question } from './questions';

/** Milliseconds that an answer may take, that it may hold the serving thread, and times that redirects may be slower meanwhile. */
const goals = { answer: 150, figures: 300, held: 20, redirects: 3 };

interface Server {
  port: number;
  held: () => Promise<number>;
  stop: () => Promise<void>;
}

async function serve(data: string): Promise<Server> {
  const port = await freePorts();
  const env = {
    ...process.env,
    GRAVENEL_ROOT: root,
    GRAVENEL_DATA: data,
    GRAVENEL_PORT: String(port),
    GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
    GRAVENEL_LOG: 'silent',
  };
  const process_ = spawn(
    process.execPath,
    ['--import', join(root, 'bench/held.mjs'), join(root, 'dist/server/main.cjs')],
    { cwd: root, stdio: ['ignore', 'ignore', 'inherit', 'ipc'], env },
  );
  await new Promise<void>((resolve, reject) => {
    process_.once('message', () => resolve());
    process_.once('exit', (code) => reject(new Error(`The server ended with ${code}`)));
  });
  return {
    port,
    held: () =>
      new Promise((resolve) => {
        process_.once('message', (m) => resolve((m as { held: number }).held));
        process_.send('held');
      }),
    stop: () =>
      new Promise((resolve) => {
        process_.once('exit', () => resolve());
        process_.kill('SIGTERM');
      }),
  };
}

interface Redirects {
  slowest: number;
  count: number;
}

/** Redirects one after the other from a process of its own. */
class Watch {
  readonly #child: ChildProcess;

  constructor(port: number, path: string) {
    this.#child = fork(join(root, 'bench/watch.mjs'), [String(port), path]);
  }

  since(): Promise<Redirects> {
    return new Promise((resolve) => {
      this.#child.once('message', (m) => resolve(m as Redirects));
      this.#child.send('say');
    });
  }

  close(): void {
    this.#child.kill();
  }
}

const pause = (ms: number) =>
  new Promise((resolve) => {
    setTimeout(resolve, ms);
  });

async function signIn(port: number): Promise<{ desk: Client; second: Client; portal: Client }> {
  const [desk, second, portal] = [0, 1, 2].map(() => new Client(`http://127.0.0.1:${port}`)) as [
    Client,
    Client,
    Client,
  ];
  await desk.post('/api/v1/session', { email: 'ines@quernstone.example', password: 'quernstone clay' });
  await second.post('/api/v1/session', { email: 'lena@quernstone.example', password: 'quernstone clay' });
  await portal.post('/api/v1/portal/session', {
    email: 'mara@loamletters.example',
    password: 'quernstone clay',
  });
  return { desk, second, portal };
}

interface Measured {
  question: Question;
  status: number;
  bytes: number;
  answer: number;
  held: number;
  slowest: number;
}

/** Asks one question so often that redirects meanwhile can be counted; the median answer, the longest hold. */
async function measure(
  question: Question,
  client: Client,
  { server, watch, times }: { server: Server; watch: Watch; times: number },
): Promise<Measured> {
  const answers: number[] = [];
  let [status, bytes] = [0, 0];
  await server.held();
  await watch.since();
  for (let i = 0; i < times; i += 1) {
    const begun = performance.now();
    const answer = await client.get(question.path);
    answers.push(performance.now() - begun);
    ({ status } = answer);
    bytes = answer.text.length;
    await pause(20);
  }
  const { slowest } = await watch.since();
  return {
    question,
    status,
    bytes,
    answer: answers.sort((a, b) => a - b)[Math.floor(answers.length / 2)]!,
    held: await server.held(),
    slowest,
  };
}

interface Run {
  id: string;
  state: string;
  version: number;
  payees: number;
  total: { amount: number };
  payments: { affiliate: string }[];
}

/** What a step of a payout run takes until it is through, and how long it holds the thread meanwhile. */
async function measureRun(
  { desk, second }: { desk: Client; second: Client },
  server: Server,
  watch: Watch,
): Promise<void> {
  const step = async (name: string, work: () => Promise<Run>): Promise<Run> => {
    await server.held();
    await watch.since();
    const begun = performance.now();
    let run = await work();
    const answered = performance.now() - begun;
    for (
      ;
      run.state === 'approving' || run.state === 'reopening';
      run = (await desk.get<Run>(`/api/v1/payouts/${run.id}`)).body
    )
      await pause(100);
    const [took, { slowest }, held] = [performance.now() - begun, await watch.since(), await server.held()];
    process.stdout.write(
      `${JSON.stringify({ case: `a payout run: ${name}`, state: run.state, payees: run.payees, ms: Math.round(answered), through: Math.round(took), held: Math.round(held), redirects: Number(slowest.toFixed(1)), reached: held <= goals.held })}\n`,
    );
    return run;
  };
  const post = async (run: Run | null, act: string, body: object, by = desk) =>
    (
      await by.post<Run>(`/api/v1/payouts${run ? `/${run.id}/${act}` : ''}`, {
        ...(run ? { version: run.version } : {}),
        ...body,
      })
    ).body;
  // one that an earlier bench left behind would stand in the way
  const left = async (state: string) =>
    (await desk.get<{ rows: Run[] }>(`/api/v1/payouts?state=${state}`)).body.rows[0];
  const [approvedBefore, draftBefore] = [await left('approved'), await left('draft')];
  const back = approvedBefore
    ? await step('one left behind taken back', async () =>
        post((await desk.get<Run>(`/api/v1/payouts/${approvedBefore.id}`)).body, 'reopen', {}),
      )
    : draftBefore;
  if (back) await post((await desk.get<Run>(`/api/v1/payouts/${back.id}`)).body, 'discard', {});
  const { now } = (await desk.get<{ now: number }>('/api/v1/session')).body;
  const drafted = await step('drafted', () =>
    post(null, '', { cutoff: new Date(now).toISOString().slice(0, 10), minimum: '' }),
  );
  const without = await step('a payee left out', () =>
    post(drafted, 'exclude', { affiliate: drafted.payments[0]!.affiliate, exclude: true }),
  );
  const approved = await step('approved', () =>
    post(without, 'approve', { total: without.total.amount }, second),
  );
  const draft = await step('taken back', () => post(approved, 'reopen', {}));
  await step('discarded', () => post(draft, 'discard', {}));
}

/** Every list, count, figure and search of desk and portal on a large programme: how long each takes, holds the thread, and slows redirects down. */
export async function benchScale(
  data = process.env.GRAVENEL_DATA ?? join(root, 'data/large'),
): Promise<void> {
  if (!existsSync(join(data, 'gravenel.sqlite')))
    throw new Error(`There is no programme in ${data}: make it with npm run demo:large`);
  built();
  const db = new Database(join(data, 'gravenel.sqlite'), { readonly: true });
  const questions = questionsOf(db);
  const link = db
    .prepare(
      "SELECT l.code FROM links l JOIN products p ON p.id = l.product JOIN affiliates a ON a.id = l.affiliate WHERE p.state = 'live' AND a.state = 'active' LIMIT 1",
    )
    .pluck()
    .get() as string;
  db.close();
  const server = await serve(data);
  const watch = new Watch(server.port, `/go/${link}`);
  try {
    const clients = await signIn(server.port);
    await pause(3000);
    await watch.since();
    await pause(4000);
    const idle = await watch.since();
    process.stdout.write(`${JSON.stringify({ case: 'redirects with nothing else running', ...idle })}\n`);
    const all: Measured[] = [];
    for (const question of questions) {
      const one = await measure(question, clients[question.by], { server, watch, times: 6 });
      all.push(one);
      const goal = question.figures ? goals.figures : goals.answer;
      const short =
        one.status !== 200 ||
        one.answer > goal ||
        one.held > goals.held ||
        one.slowest > Math.max(goals.held, idle.slowest * goals.redirects);
      process.stdout.write(
        `${JSON.stringify({ case: question.path, status: one.status, kB: Math.round(one.bytes / 1024), ms: Math.round(one.answer), held: Math.round(one.held), redirects: Number(one.slowest.toFixed(1)), reached: !short })}\n`,
      );
    }
    await measureRun(clients, server, watch);
    const worst = (valueOf: (m: Measured) => number) => Math.round(Math.max(...all.map(valueOf)));
    process.stdout.write(
      `${JSON.stringify({ case: 'all of them', questions: all.length, slowest: worst((m) => m.answer), held: worst((m) => m.held), redirects: worst((m) => m.slowest), idle: idle.slowest, largest: worst((m) => m.bytes / 1024) })}\n`,
    );
  } finally {
    watch.close();
    await server.stop();
  }
}
