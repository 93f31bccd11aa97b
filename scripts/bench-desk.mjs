// Figures of the post desk: node bench-desk.mjs ADDRESS DRIVER_PORT
import { openBrowser } from './browser.mjs';

const [address, port] = process.argv.slice(2);
const line = (name, value, reference, ratio, target, holds) => console.log(`${name} | ${value} | ${reference} | ${ratio} | ${target} | ${holds ? 'holds' : 'falls short'}`);
const median = (values) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];
const runs = 7;

const browser = await openBrowser({ port: Number(port) });
try {
  await browser.go(address);
  await browser.type('input[type=email]', 'wren@marram.example.org');
  await browser.type('input[type=password]', 'first light');
  await browser.click('button[type=submit]');
  await browser.until(`document.querySelector('[data-day-tick]')`);

  // A post that goes to all eight networks, four of which say something of their own.
  const post = await browser.run(`
    return (async () => {
      const get = (path) => fetch(path).then((r) => r.json());
      const id = (await get('/api/session')).workspaces.find((w) => w.slug === 'marram').id;
      const at = '/api/workspaces/' + id;
      const [categories, channels] = await Promise.all([get(at + '/categories'), get(at + '/channels')]);
      const text = 'The tide turned at nine, and 🐦 the slip was dry by ten. #tides '.repeat(6).trim();
      const networks = Object.fromEntries(['jot', 'meadow', 'doorstep', 'glimmer'].map((n) => [n, { text: n + ': ' + text.slice(0, 150) }]));
      const body = { title: 'A post for the bench', categoryId: categories[0].id, stage: 'draft', lifespan: 'evergreen', inRotation: true, channels: channels.filter((c) => c.connection !== 'disconnected').map((c) => c.id),
        content: { common: { text, link: 'https://marram.example.org/tides' }, networks, channels: {}, wordings: [] } };
      const made = await fetch(at + '/posts', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }).then((r) => r.json());
      if (!made.id) throw new Error(JSON.stringify(made));
      return { at, id: made.id };
    })();`);
  const loop = await browser.run(`let n = 0; const start = performance.now(); for (let i = 0; i < 2e7; i++) n = (n * 31 + i) | 0; return [performance.now() - start, n][0];`);
  const ready = `document.querySelectorAll('[data-network] [data-count]').length >= 8 && document.querySelector('#common-text')`;

  // Loads of its address and of the calendar's take turns, so that both have the same machine.
  const loads = { desk: [], calendar: [] };
  for (let i = 0; i < runs; i++)
    for (const [name, path, there] of [
      ['desk', `/w/marram/posts/${post.id}`, ready],
      ['calendar', '/w/marram/calendar', `document.querySelectorAll('[data-entry]').length > 10`],
    ]) {
      await browser.go(address + path);
      await browser.until(there);
      loads[name].push(await browser.run('return performance.now()'));
    }
  const [desk, calendar] = [median(loads.desk), median(loads.calendar)];
  line('desk ready after a fresh load of its address', `${desk.toFixed(0)} ms`, `calendar in the same run ${calendar.toFixed(0)} ms`, `${(desk / calendar).toFixed(2)} ×`, 'no slower than the calendar', desk <= calendar);

  // From a press in the bank to a desk that can be typed in; the first one fetches what later ones have.
  const presses = [];
  for (let i = 0; i < runs + 1; i++) {
    await browser.go(`${address}/w/marram/bank?search=bench`);
    await browser.until(`document.querySelector('main li a')`);
    await browser.pause(3500);
    presses.push(
      await browser.run(`
        const start = performance.now(); document.querySelector('main li a').click();
        return new Promise((done) => { const look = () => { const field = document.querySelector('#common-text'); if (field && field.value) { field.focus(); if (document.activeElement === field) return done(performance.now() - start); } requestAnimationFrame(look); }; look(); });`),
    );
  }
  const press = median(presses.slice(1));
  line('from a press on a card to a desk ready for typing', `${press.toFixed(0)} ms`, `calibration loop ${loop.toFixed(0)} ms`, `${(press / loop).toFixed(1)} ×`, 'under 300 ms', press < 300);

  // Typing, key by key as a person does; then how long after the last key the findings are those of the new text.
  await browser.go(`${address}/w/marram/posts/${post.id}`);
  await browser.until(ready);
  await browser.pause(2500);
  await browser.run(`window.frames = []; let last = performance.now(); const look = (now) => { window.frames.push(now - last); last = now; requestAnimationFrame(look); }; requestAnimationFrame(look);`);
  const worst = [];
  const found = [];
  for (let run = 0; run < runs; run++) {
    await browser.run(`const f = document.querySelector('#common-text'); f.focus(); f.setSelectionRange(f.value.length, f.value.length); window.frames.length = 0;`);
    for (const key of ' and so on') {
      await browser.cdp('Input.dispatchKeyEvent', { type: 'keyDown', text: key, key });
      await browser.cdp('Input.dispatchKeyEvent', { type: 'keyUp', key });
      await browser.pause(60);
    }
    worst.push(await browser.run('return Math.max(...window.frames)'));
    await browser.pause(1500);
    found.push(
      await browser.run(`
        const count = () => document.querySelector('[data-network=hearth] [data-count]').dataset.count;
        const before = count(); const field = document.querySelector('#common-text'); field.focus();
        const start = performance.now(); document.execCommand('insertText', false, 'x');
        return new Promise((done) => { const look = () => count() !== before ? done(performance.now() - start) : requestAnimationFrame(look); look(); });`),
    );
    await browser.pause(1200);
  }
  line('worst frame while typing in a post with eight variants', `${median(worst).toFixed(0)} ms`, `calibration loop ${loop.toFixed(0)} ms`, `${(median(worst) / loop).toFixed(1)} ×`, 'at most 50 ms', median(worst) <= 50);
  line('findings after the last key', `${median(found).toFixed(0)} ms`, `calibration loop ${loop.toFixed(0)} ms`, `${(median(found) / loop).toFixed(1)} ×`, 'under 150 ms', median(found) < 150);
  await browser.run(`return fetch('${post.at}/posts/${post.id}', { method: 'DELETE' }).then((r) => r.status)`);
} finally {
  await browser.close();
}
