// Follows a link again and again, some milliseconds apart, and says how slow the slowest hundredth was since it was asked last.
import http from 'node:http';

const [port, path] = process.argv.slice(2);
const agent = new http.Agent({ keepAlive: true, maxSockets: 1 });
let times = [];
process.on('message', () => {
  const list = times.sort((a, b) => a - b);
  process.send({
    slowest: Number((list[Math.floor(list.length * 0.99)] ?? 0).toFixed(1)),
    count: list.length,
  });
  times = [];
});
for (;;) {
  const begun = performance.now();
  await new Promise((done) => {
    http
      .get({ host: '127.0.0.1', port, path, agent, headers: { 'user-agent': 'Mozilla/5.0' } }, (res) => {
        res.resume();
        res.on('end', done);
      })
      .on('error', done);
  });
  times.push(performance.now() - begun);
  await new Promise((go) => {
    setTimeout(go, 2);
  });
}
