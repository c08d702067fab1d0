import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { built, checkNode, installed, must, root } from './lib/prepare.mjs';

checkNode();
const empty = process.argv.includes('--empty');
installed();
built();
const env = { ...process.env, GRAVENEL_ROOT: root };
const data = process.env.GRAVENEL_DATA ?? join(root, 'data');
const fresh = !existsSync(join(data, 'gravenel.sqlite'));
if (fresh && !empty) {
  process.stdout.write('Making the demo data.\n');
  must(process.execPath, [join(root, 'dist/server/demo.cjs')], { env });
}
const server = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
  env,
  cwd: root,
  stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
});
server.on('message', (said) => {
  if (!String(said).startsWith('ready')) return;
  const port = Number(process.env.GRAVENEL_PORT ?? 4310);
  const address = process.env.GRAVENEL_ADDRESS ?? `http://127.0.0.1:${port}`;
  const lines = [`  Desk      ${address}`, `  Portal    ${address}/portal`, `  Join page ${address}/join`];
  if (said === 'ready with stand-ins')
    lines.push(
      `  Stand-ins http://127.0.0.1:${port + 1} (shop, /mailroom, /bank)`,
      `  Registry  http://127.0.0.1:${port + 2}`,
    );
  if (existsSync(join(data, 'demo-sign-ins.txt'))) {
    lines.push(
      '',
      '  Demo sign-ins, all with the password “quernstone clay”:',
      '    owner ines@quernstone.example · manager rui@quernstone.example',
      '    finance lena@quernstone.example · viewer tom@quernstone.example',
      '    affiliate (portal) mara@loamletters.example',
    );
  } else if (fresh) lines.push('', '  Open the desk to set the programme up.');
  process.stdout.write(`${lines.join('\n')}\n\n  Ctrl C ends it.\n`);
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
