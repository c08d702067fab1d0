import type { Express } from 'express';
import { escape, page } from '../html';
import { setSwitch } from '../store';
import type { Gravenel } from './gravenel';
import { switchNames, type Records } from './records';

/** How the shop behaves, and how it is connected. */
export function switchPages(server: Express, records: Records, gravenel: Gravenel): void {
  const { db, setting } = records;
  server.get('/switches', (_req, res) => {
    const boxes = Object.entries(switchNames).map(
      ([name, text]) =>
        `<label class="check"><input type="checkbox" name="shop-${name}" value="on"${records.on(name as keyof typeof switchNames) ? ' checked' : ''}> ${text}</label>`,
    );
    res.send(
      page(
        'Shop',
        'Switches',
        `<form method="post" action="/switches"><h2>Connection to Gravenel</h2>
      <p class="line"><label>Address <input name="gravenel" size="40" value="${escape(gravenel.address())}"></label><label>Key <input name="key" size="30" value="${escape(setting('key', ''))}"></label><label>Secret <input name="secret" size="50" value="${escape(setting('secret', ''))}" autocomplete="off"></label></p>
      <h2>How it behaves</h2>${boxes.join('')}<p><button>Keep</button></p></form>`,
      ),
    );
  });
  server.post('/switches', (req, res) => {
    const body = req.body as Record<string, string>;
    for (const name of Object.keys(switchNames)) setSwitch(db, `shop-${name}`, body[`shop-${name}`] ?? '');
    // an address without its last slash; a secret may end with one
    if (body.gravenel !== undefined) setSwitch(db, 'gravenel', body.gravenel.trim().replace(/\/+$/, ''));
    for (const name of ['key', 'secret'])
      if (body[name] !== undefined) setSwitch(db, name, body[name].trim());
    res.redirect(303, '/switches');
  });
}
