import type { Express } from 'express';
import { createTransport } from 'nodemailer';
import { MailRefused, type Mail, type MailPort } from '../server/ground/ports';
import { escape, page } from './html';
import { readSwitch, setSwitch, type StandinDb } from './store';

const writer = createTransport({ streamTransport: true, buffer: true, newline: 'unix' });

async function emlOf(mail: Mail): Promise<string> {
  const made = await writer.sendMail({
    to: mail.to,
    from: mail.from,
    subject: mail.subject,
    text: mail.body,
    date: new Date(mail.at),
    messageId: `<${mail.id}@gravenel>`,
  });
  return (made.message as Buffer).toString('utf8');
}

function bouncing(db: StandinDb): string[] {
  return readSwitch(db, 'bounce')
    .split(/[\s,]+/)
    .filter(Boolean);
}

/** The mail port that keeps every message here instead of sending it. The same message again is kept once. */
export function mailRoom(db: StandinDb): MailPort {
  const insert = db.prepare(
    'INSERT INTO mails (id, at, recipient, subject, body, eml) VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO NOTHING',
  );
  return {
    async deliver(mail) {
      if (bouncing(db).includes(mail.to.toLowerCase()))
        throw new MailRefused('never', `550 ${mail.to} does not exist here`);
      insert.run(mail.id, mail.at, mail.to, mail.subject, mail.body, await emlOf(mail));
    },
  };
}

interface Row {
  id: string;
  at: number;
  recipient: string;
  subject: string;
  body: string;
  eml: string;
}

const linked = (text: string) =>
  escape(text).replace(/https?:&#47;&#47;[^\s]+|https?:\/\/[^\s]+/g, (url) => `<a href="${url}">${url}</a>`);

/** The pages of the mail room: every message, newest first, each to read and to download as .eml. */
export function mailRoomPages(server: Express, db: StandinDb): void {
  server.get('/mailroom', (req, res) => {
    const to = typeof req.query.to === 'string' ? req.query.to.trim().toLowerCase() : '';
    const rows = db
      .prepare(
        "SELECT * FROM mails WHERE ? = '' OR recipient LIKE '%' || ? || '%' ORDER BY at DESC, id DESC LIMIT 200",
      )
      .all(to, to) as Row[];
    res.send(
      page(
        'Mail room',
        'Messages',
        `
      <form class="line"><label>To <input name="to" value="${escape(to)}" placeholder="any address"></label><button class="q">Show</button></form>
      <table><tr><th>To<th>Subject<th>When</tr>${rows.map((m) => `<tr><td>${escape(m.recipient)}<td><a href="/mailroom/${escape(m.id)}">${escape(m.subject)}</a><td>${new Date(m.at).toISOString().slice(0, 16).replace('T', ' ')}</tr>`).join('')}</table>
      ${rows.length ? '' : '<p>No message yet.</p>'}
      <h2>Addresses that bounce</h2><form class="line" method="post" action="/mailroom/bounce"><label>Addresses <input name="addresses" size="50" value="${escape(readSwitch(db, 'bounce'))}"></label><button class="q">Keep</button></form>`,
      ),
    );
  });
  server.get('/mailroom/messages.json', (_req, res) => {
    res.json(db.prepare('SELECT id, at, recipient AS "to", subject, body FROM mails ORDER BY at, id').all());
  });
  server.post('/mailroom/bounce', (req, res) => {
    setSwitch(db, 'bounce', String((req.body as { addresses?: string }).addresses ?? '').toLowerCase());
    res.redirect(303, '/mailroom');
  });
  server.get('/mailroom/:id', (req, res) => {
    const eml = req.params.id.endsWith('.eml');
    const mail = db.prepare('SELECT * FROM mails WHERE id = ?').get(req.params.id.replace(/\.eml$/, '')) as
      Row | undefined;
    if (!mail)
      return res
        .status(404)
        .send(page('Mail room', 'No such message', '<p><a href="/mailroom">All messages</a></p>'));
    if (eml) return res.type('message/rfc822').attachment(`${mail.id}.eml`).send(mail.eml);
    return res.send(
      page(
        'Mail room',
        mail.subject,
        `<p class="note">To ${escape(mail.recipient)} · <a href="/mailroom/${escape(mail.id)}.eml">as .eml</a></p><pre>${linked(mail.body)}</pre>`,
      ),
    );
  });
}
