// Figures of the page: node bench.mjs ADDRESS DRIVER_PORT DIST
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { openBrowser } from './browser.mjs';
import { importing } from './importing.mjs';

const [address, port, dist] = process.argv.slice(2);
const line = (name, value, reference, ratio, target, holds) => console.log(`${name} | ${value} | ${reference} | ${ratio} | ${target} | ${holds ? 'holds' : 'falls short'}`);
const median = (values) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];

// What the first page loads: the scripts that index.html names.
const index = readFileSync(join(dist, 'index.html'), 'utf8');
const first = [...index.matchAll(/(?:src|href)="(\/assets\/[^"]+\.js)"/g)].map((m) => readFileSync(join(dist, m[1])));
const all = readdirSync(join(dist, 'assets')).filter((f) => f.endsWith('.js')).map((f) => readFileSync(join(dist, 'assets', f)));
const kb = (files) => files.reduce((n, f) => n + gzipSync(f).length, 0) / 1000;
line('first-load script, gzip', `${kb(first).toFixed(0)} kB`, `all scripts ${kb(all).toFixed(0)} kB`, (kb(first) / kb(all)).toFixed(2), 'under 250 kB', kb(first) < 250);

const browser = await openBrowser({ port: Number(port) });
try {
  await browser.go(address);
  await browser.type('input[type=email]', 'wren@marram.example.org');
  await browser.type('input[type=password]', 'first light');
  await browser.click('button[type=submit]');
  await browser.until(`document.querySelector('[data-day-tick]')`);
  const timed = async (path, ready) => {
    const times = [];
    for (let i = 0; i < 5; i++) {
      await browser.go(address + path);
      await browser.until(ready);
      times.push(await browser.run(`return performance.now()`));
    }
    return median(times);
  };
  const empty = await timed('/healthz', 'document.body');
  const week = await timed('/w/marram/calendar', `document.querySelectorAll('[data-entry]').length > 10`);
  line('calendar ready to use after a load', `${week.toFixed(0)} ms`, `empty page of the same server ${empty.toFixed(0)} ms`, `${(week / empty).toFixed(1)} ×`, 'under 1500 ms', week < 1500);

  await browser.go(`${address}/w/marram/calendar`);
  await browser.until(`document.querySelectorAll('[data-entry]').length > 10`);
  const reaction = [];
  for (let i = 0; i < 7; i++) {
    reaction.push(
      await browser.run(`
        const cards = [...document.querySelectorAll('[data-entry]')]; const card = cards[${i}];
        const start = performance.now(); card.click();
        return new Promise((done) => { const look = () => document.querySelector('[data-sheet]') && card.getAttribute('aria-pressed') === 'true' ? done(performance.now() - start) : requestAnimationFrame(look); look(); });`),
    );
  }
  const frame = await browser.run(`return new Promise((done) => requestAnimationFrame((a) => requestAnimationFrame((b) => done(b - a))))`);
  line('reaction to a press on a card', `${median(reaction).toFixed(0)} ms`, `one frame ${frame.toFixed(0)} ms`, `${(median(reaction) / frame).toFixed(1)} ×`, 'under 100 ms', median(reaction) < 100);

  await browser.go(`${address}/w/marram/calendar`);
  const shift = await browser.run(`
    return new Promise((done) => { let sum = 0; new PerformanceObserver((l) => { for (const e of l.getEntries()) if (!e.hadRecentInput) sum += e.value; }).observe({ type: 'layout-shift', buffered: true }); setTimeout(() => done(sum), 2500); });`);
  line('layout shift while the calendar loads', shift.toFixed(3), 'none', '–', 'under 0.1', shift < 0.1);

  // A usual workspace's what-if: sixty slots a week and two thousand posts, imported and taken back afterwards.
  const usual = await browser.run(`
    return (async () => {
      const get = (path) => fetch(path).then((r) => r.json());
      const json = { 'content-type': 'application/json' };
      const id = (await get('/api/session')).workspaces.find((w) => w.slug === 'marram').id;
      const at = '/api/workspaces/' + id;
      const [categories, every, [rota], bank] = await Promise.all([get(at + '/categories'), get(at + '/channels'), get(at + '/rotas'), get(at + '/posts')]);
      const channels = every.slice(0, 8);
      const rows = Array.from({ length: 2000 - bank.total }, (_, i) => ['Usual ' + i, 'Note ' + i + ' of a usual workspace', categories[i % categories.length].name].join(','));
      ${importing}
      const line = await importing(at, 'title,text,category\\n' + rows.join('\\n'));
      try {
        const total = (await get(at + '/posts')).total;
        const slots = Array.from({ length: 60 }, (_, i) => ({ days: [1 + (i % 7)], time: String(7 + (i % 13)).padStart(2, '0') + ':' + (i % 2 ? '30' : '00') + ':00', categories: [categories[i % categories.length].id], channels: [channels[i % channels.length].id, channels[(i + 3) % channels.length].id] }));
        const ask = (i) => fetch(at + '/what-if', { method: 'POST', headers: json, body: JSON.stringify({ weeks: 12, rotas: [{ id: rota.id, rota: { ...rota, slots: [...slots.slice(1), { ...slots[0], time: String(i % 24).padStart(2, '0') + ':15:00' }] } }] }) }).then((r) => r.json());
        const times = [];
        for (let i = 0; i < 95; i++) { const start = performance.now(); const answer = await ask(i); if (!answer.after) throw new Error(JSON.stringify(answer)); if (i >= 80) times.push(performance.now() - start); }
        const start = performance.now(); await fetch('/healthz').then((r) => r.text());
        return { what: times.sort((a, b) => a - b)[7], empty: performance.now() - start, total };
      } finally {
        await fetch(at + '/imports/' + line.id + '/take-back', { method: 'POST' });
      }
    })();`);
  // One post of many fields, checked for every network and for every channel with words of its own.
  const check = await browser.run(`
    return (async () => {
      const get = (path) => fetch(path).then((r) => r.json());
      const id = (await get('/api/session')).workspaces.find((w) => w.slug === 'marram').id;
      const at = '/api/workspaces/' + id;
      const channels = await get(at + '/channels');
      const text = 'The tide turned at nine, and 🐦 the slip was dry by ten. #tides '.repeat(8);
      const own = Object.fromEntries(channels.map((c) => [c.id, { text: c.name + ': ' + text }]));
      const body = JSON.stringify({ common: { text, link: 'https://marram.example.org/tides', firstComment: 'Wellingtons advised. #slip' }, networks: {}, channels: own, wordings: [] });
      const times = []; let targets = 0;
      for (let i = 0; i < 45; i++) { const start = performance.now(); const answer = await fetch(at + '/posts/check', { method: 'POST', headers: { 'content-type': 'application/json' }, body }).then((r) => r.json()); targets = (answer.checks ?? answer).length; if (i >= 30) times.push(performance.now() - start); }
      const start = performance.now(); await fetch('/healthz').then((r) => r.text());
      return { took: times.sort((a, b) => a - b)[7], empty: performance.now() - start, targets };
    })();`);
  line(`checking one post over HTTP (${check.targets} networks and channels)`, `${check.took.toFixed(0)} ms`, `empty page ${check.empty.toFixed(0)} ms`, `${(check.took / check.empty).toFixed(1)} ×`, 'under 50 ms', check.took < 50);

  line(`what-if over HTTP, 12 weeks (8 channels, ${usual.total} posts, 60 slots a week)`, `${usual.what.toFixed(0)} ms`, `empty page ${usual.empty.toFixed(0)} ms`, `${(usual.what / usual.empty).toFixed(1)} ×`, 'under 100 ms', usual.what < 100);

  // A what-if as dragging asks for it: the present rota with one slot more, over twelve weeks.
  const asked = await browser.run(`
    return (async () => {
      const get = (path) => fetch(path).then((r) => r.json());
      const id = (await get('/api/session')).workspaces.find((w) => w.slug === 'marram').id;
      const [rota] = await get('/api/workspaces/' + id + '/rotas');
      const slots = rota.slots.map(({ nextDates, ...slot }) => slot);
      const ask = (i) => fetch('/api/workspaces/' + id + '/what-if', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ weeks: 12, rotas: [{ id: rota.id, rota: { ...rota, slots: [...slots, { ...slots[0], id: null, time: String(i % 24).padStart(2, '0') + ':15:00' }] } }] }) }).then((r) => r.json());
      const times = [];
      for (let i = 0; i < 25; i++) { const start = performance.now(); const answer = await ask(i); if (!answer.after) throw new Error(JSON.stringify(answer)); if (i >= 10) times.push(performance.now() - start); }
      const start = performance.now(); await fetch('/healthz').then((r) => r.text());
      return { what: times.sort((a, b) => a - b)[7], empty: performance.now() - start };
    })();`);
  line('what-if of the demo over HTTP, 12 weeks', `${asked.what.toFixed(0)} ms`, `empty page ${asked.empty.toFixed(0)} ms`, `${(asked.what / asked.empty).toFixed(1)} ×`, 'under 100 ms', asked.what < 100);

  // A week with a thousand deliveries, made by an import that is taken back afterwards.
  const made = await browser.run(`
    const get = (path) => fetch(path).then((r) => r.json());
    return (async () => {
      const session = await get('/api/session');
      const id = session.workspaces.find((w) => w.slug === 'marram').id;
      const [categories, workspace, channels] = await Promise.all(['/categories', '', '/channels'].map((path) => get('/api/workspaces/' + id + path)));
      // Networks that take words alone.
      const words = new Set(channels.filter((c) => ['jot', 'meadow', 'hearth', 'guildhall'].includes(c.network)).map((c) => c.id));
      const taking = (c) => c.usualChannels.filter((u) => words.has(u)).length;
      const widest = categories.toSorted((a, b) => taking(b) - taking(a))[0];
      const monday = new Date(workspace.today + 'T00:00Z'); monday.setUTCDate(monday.getUTCDate() + 21 - ((monday.getUTCDay() + 6) % 7));
      const rows = Array.from({ length: Math.ceil(1000 / taking(widest)) }, (_, i) => {
        const day = new Date(monday); day.setUTCDate(day.getUTCDate() + (i % 7));
        return ['Crowd ' + i, 'One of a great many: number ' + i, widest.name, day.toISOString().slice(0, 10), String(6 + Math.floor(i / 7) % 16).padStart(2, '0') + ':' + String(i * 7 % 60).padStart(2, '0')].join(',');
      });
      ${importing}
      const line = await importing('/api/workspaces/' + id, 'title,text,category,date,time\\n' + rows.join('\\n'));
      return { id, line, week: monday.toISOString().slice(0, 10) };
    })();`);

  await browser.go(`${address}/w/marram/calendar?week=${made.week}`);
  await browser.until(`document.querySelectorAll('[data-entry]').length > 900`);
  // At rest: what the load still does is measured above.
  await browser.pause(3000);
  await browser.run(`window.long = []; new PerformanceObserver((l) => window.long.push(...l.getEntries().map((e) => e.duration))).observe({ type: 'longtask' }); window.frames = []; let last = performance.now(); const look = (now) => { window.frames.push(now - last); last = now; requestAnimationFrame(look); }; requestAnimationFrame(look);`);
  for (let i = 0; i < 3; i++) {
    await browser.cdp('Input.synthesizeScrollGesture', { x: 640, y: 500, yDistance: -4000, speed: 4000 });
    await browser.cdp('Input.synthesizeScrollGesture', { x: 640, y: 500, yDistance: 4000, speed: 4000 });
  }
  const { cards, longest, worst } = await browser.run(`return { cards: document.querySelectorAll('[data-entry]').length, longest: Math.max(0, ...window.long), worst: Math.max(...window.frames) }`);
  line(`longest task while a week of ${cards} entries scrolls`, `${longest.toFixed(0)} ms`, `worst frame ${worst.toFixed(0)} ms`, '–', 'under 100 ms', longest < 100);
  await browser.run(`return fetch('/api/workspaces/${made.id}/imports/${made.line.id}/take-back', { method: 'POST' }).then((r) => r.status)`);
} finally {
  await browser.close();
}
