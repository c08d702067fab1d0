import type { Site } from '../../ground/http/site';
import { theProgramme } from '../../registers/programme/record';

/** The buy button: a link to the sales page with the price of this moment and the true number left at it. */
export function buttonRoute(site: Site): void {
  const { server, app } = site;
  server.get('/button.js', (_req, res) => {
    res.type('application/javascript').set({
      'cache-control': 'public, max-age=600',
      'cross-origin-resource-policy': 'cross-origin',
      'access-control-allow-origin': '*',
    }).send(`(function () {
  'use strict';
  var ORIGIN = ${JSON.stringify(app.address)}, own = document.currentScript, code = own && own.getAttribute('data-product');
  if (!code) return;
  var link = document.createElement('a'), note = document.createElement('span');
  link.className = 'gravenel-buy'; note.className = 'gravenel-left'; link.textContent = own.getAttribute('data-text') || 'Buy';
  own.parentNode.insertBefore(link, own); own.parentNode.insertBefore(note, own);
  function show() {
    fetch(ORIGIN + '/api/open/v1/products/' + encodeURIComponent(code)).then(function (r) { return r.ok ? r.json() : null; }).then(function (offer) {
      if (!offer) return;
      var visit = window.gravenel && window.gravenel.visit();
      if (offer.onSale) link.href = offer.page + (visit ? (offer.page.indexOf('?') < 0 ? '?' : '&') + 'gvn=' + encodeURIComponent(visit) : '');
      else link.removeAttribute('href');
      link.textContent = (own.getAttribute('data-text') || 'Buy') + (offer.asked[0] ? ' \u00b7 ' + offer.asked[0].value + ' ' + offer.asked[0].currency : '');
      link.title = offer.asked.slice(1).map(function (p) { return p.value + ' ' + p.currency; }).join(', ');
      note.textContent = offer.left === null ? '' : offer.left === 0 ? ' sold out' : ' ' + offer.left + ' left at this price';
    }).catch(function () {});
  }
  show();
  setInterval(show, 30000);
})();
`);
  });
}

/** The page snippet: keeps the visit in first-party storage for the window and gives it to the shop's checkout. */
export function snippetRoute(site: Site): void {
  const { server, app } = site;
  server.get('/gravenel.js', (_req, res) => {
    const days = theProgramme(app).windowDays;
    res.type('application/javascript').set({
      'cache-control': 'public, max-age=600',
      'cross-origin-resource-policy': 'cross-origin',
      'access-control-allow-origin': '*',
    }).send(`(function () {
  'use strict';
  var KEY = 'gvn', WINDOW = ${days} * 86400000, ORIGIN = ${JSON.stringify(app.address)};
  function read() {
    try {
      var kept = JSON.parse(localStorage.getItem(KEY) || 'null');
      return kept && kept.at > Date.now() - WINDOW ? kept.visit : null;
    } catch (e) { return null; }
  }
  var match = /[?&]gvn=(vis_[0-9a-z]+)/.exec(location.search);
  if (match) try { localStorage.setItem(KEY, JSON.stringify({ visit: match[1], at: Date.now() })); } catch (e) {}
  window.gravenel = {
    visit: read,
    picture: function (key, order) {
      var parts = [];
      for (var name in order) if (order[name] != null) parts.push(name + '=' + encodeURIComponent(order[name]));
      var visit = read();
      if (visit && !order.visit) parts.push('visit=' + visit);
      new Image().src = ORIGIN + '/px/' + encodeURIComponent(key) + '.gif?' + parts.join('&');
    }
  };
  function fill() {
    var visit = read();
    var fields = document.querySelectorAll('input[name=gvn]');
    for (var i = 0; i < fields.length; i++) if (visit && !fields[i].value) fields[i].value = visit;
  }
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', fill); else fill();
})();
`);
  });
}
