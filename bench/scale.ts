import type { ChildProcess } from 'node:child_process';
import { fork, spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { Client } from '../scripts/journey/client';
import { built, root } from '../scripts/lib/prepare.mjs';
import { freePorts } from '../tests/helpers/free-ports';
import type { Question } from './questions';
import { questionsOf } from './questions';

/** Milliseconds that an answer may take, that it may hold the serving thread, and times that redirects may be slower meanwhile. */
const goals = { answer: 150, figures: 300, held: 20, redirects: 3 };

interface Server { port: number; held: () => Promise<number>; stop: () => Promise<void> }

async function serve(data: string): Promise<Server> {
  const port = await freePorts();
  const env = { ...process.env, GRAVENEL_ROOT: root, GRAVENEL_DATA: data, GRAVENEL_PORT: String(port), GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`, GRAVENEL_LOG: 'silent' };
  const process_ = spawn(process.execPath, ['--import', join(root, 'bench/held.mjs'), join(root, 'dist/server/main.cjs')], { cwd: root, stdio: ['ignore', 'ignore', 'inherit', 'ipc'], env });
  await new Promise<void>((resolve, reject) => { process_.once('message', () => resolve()); process_.once('exit', (code) => reject(new Error(`The server ended with ${code}`))); });
  return {
    port,
    held: () => new Promise((resolve) => { process_.once('message', (m) => resolve((m as { held: number }).held)); process_.send('held'); }),
    stop: () => new Promise((resolve) => { process_.once('exit', () => resolve()); process_.kill('SIGTERM'); }),
  };
}

interface Redirects { slowest: number; count: number }

/** Redirects one after the other from a process of its own. */
class Watch {
  readonly #child: ChildProcess;

  constructor(port: number, path: string) {
    this.#child = fork(join(root, 'bench/watch.mjs'), [String(port), path]);
  }

  since(): Promise<Redirects> {
    return new Promise((resolve) => { this.#child.once('message', (m) => resolve(m as Redirects)); this.#child.send('say'); });
  }

  close(): void {
    this.#child.kill();
  }
}

const pause = (ms: number) => new Promise((resolve) => { setTimeout(resolve, ms); });

async function signIn(port: number): Promise<{ desk: Client; portal: Client }> {
  const [desk, portal] = [new Client(`http://127.0.0.1:${port}`), new Client(`http://127.0.0.1:${port}`)];
  await desk.post('/api/v1/session', { email: 'ines@quernstone.example', password: 'quernstone clay' });
  await portal.post('/api/v1/portal/session', { email: 'mara@loamletters.example', password: 'quernstone clay' });
  return { desk, portal };
}

interface Measured { question: Question; status: number; bytes: number; answer: number; held: number; slowest: number }

/** Asks one question so often that redirects meanwhile can be counted; the median answer, the longest hold. */
async function measure(question: Question, client: Client, server: Server, watch: Watch, times: number): Promise<Measured> {
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
  return { question, status, bytes, answer: answers.sort((a, b) => a - b)[Math.floor(answers.length / 2)]!, held: await server.held(), slowest };
}

/** Every list, count, figure and search of desk and portal on a large programme: how long each takes, holds the thread, and slows redirects down. */
export async function benchScale(data = process.env.GRAVENEL_DATA ?? join(root, 'data/large')): Promise<void> {
  if (!existsSync(join(data, 'gravenel.sqlite'))) throw new Error(`There is no programme in ${data}: make it with npm run demo:large`);
  built();
  const db = new Database(join(data, 'gravenel.sqlite'), { readonly: true });
  const questions = questionsOf(db);
  const link = db.prepare("SELECT l.code FROM links l JOIN products p ON p.id = l.product JOIN affiliates a ON a.id = l.affiliate WHERE p.state = 'live' AND a.state = 'active' LIMIT 1").pluck().get() as string;
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
      const one = await measure(question, clients[question.by], server, watch, 6);
      all.push(one);
      const goal = question.figures ? goals.figures : goals.answer;
      const short = one.status !== 200 || one.answer > goal || one.held > goals.held || one.slowest > Math.max(goals.held, idle.slowest * goals.redirects);
      process.stdout.write(`${JSON.stringify({ case: question.path, status: one.status, kB: Math.round(one.bytes / 1024), ms: Math.round(one.answer), held: Math.round(one.held), redirects: Number(one.slowest.toFixed(1)), reached: !short })}\n`);
    }
    const worst = (of: (m: Measured) => number) => Math.round(Math.max(...all.map(of)));
    process.stdout.write(`${JSON.stringify({ case: 'all of them', questions: all.length, slowest: worst((m) => m.answer), held: worst((m) => m.held), redirects: worst((m) => m.slowest), idle: idle.slowest, largest: worst((m) => m.bytes / 1024) })}\n`);
  } finally {
    watch.close();
    await server.stop();
  }
}
