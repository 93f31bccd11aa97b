// The calendar's page with a full month: node bench-calendar-page.mjs ADDRESS DRIVER_PORT
import { openBrowser } from './browser.mjs';
import { steadyLoop, under, withinAt } from './calibration.mjs';

const [address, port] = process.argv.slice(2);
/** Read anew for each view: a machine's speed changes within a run. */
let loop;
const median = (values) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];
const say = (name, value, most, beside = '') => console.log(`${name} | ${value.toFixed(0)} ms | ${beside}calibration loop ${loop.toFixed(0)} ms | – | ${under(most)} | ${withinAt(loop, value, most) ? 'holds' : 'falls short'}`);

const names = { month: 'month', fortnight: 'fortnight', lanes: 'week in lanes' };
const browser = await openBrowser({ port: Number(port) });
try {
  await browser.go(`${address}/`);
  await browser.run(`return fetch('/api/session', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'wren@marram.example.org', password: 'first light' }) }).then((r) => r.status)`);
  const on = new Date(Date.now() + 75 * 864e5).toISOString().slice(0, 10);
  for (const view of ['month', 'fortnight', 'lanes']) {
    loop = steadyLoop();
    await browser.go(`${address}/w/marram/calendar?view=${view}&on=${on}`);
    await browser.until(`document.querySelectorAll('[data-cell]').length > 7 && document.querySelector('[data-sum]')?.dataset.sum.split(' ')[0] > 300`);
    await browser.pause(1500);
    // A title is typed, letter by letter, until what is left is drawn.
    await browser.run(`[...document.querySelectorAll('button')].find((b) => b.textContent.startsWith('Narrow it')).click(); return 1`);
    await browser.until(`document.querySelector('input[placeholder=Title]')`);
    const [filtering, frames] = await browser.run(`
      const field = document.querySelector('input[placeholder=Title]');
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
      const sum = () => document.querySelector('[data-sum]')?.dataset.sum;
      // From the letter until the sum has changed and the frame after that is painted; nothing else asks for frames meanwhile.
      const one = (text) => new Promise((done) => {
        const before = sum(), start = performance.now();
        const painted = () => requestAnimationFrame(() => { const { port1, port2 } = new MessageChannel(); port1.onmessage = () => done(performance.now() - start); port2.postMessage(0); });
        const watch = new MutationObserver(() => { if (sum() === before) return; watch.disconnect(); painted(); });
        watch.observe(document.body, { subtree: true, childList: true, attributes: true });
        setTimeout(() => done(3000), 3000);
        set.call(field, text); field.dispatchEvent(new Event('input', { bubbles: true }));
      });
      // The same page with one word changed in place of a filter: what a frame costs here at least.
      const least = () => new Promise((done) => {
        const word = document.querySelector('h2, h1'), start = performance.now();
        word.dataset.bench = start; word.style.opacity = word.style.opacity ? '' : '0.99';
        requestAnimationFrame(() => { const { port1, port2 } = new MessageChannel(); port1.onmessage = () => done(performance.now() - start); port2.postMessage(0); });
      });
      return (async () => { const times = [], frames = []; for (const text of ['a', '', 'the', '', 'on', '', 'e', '']) { times.push(await one(text)); await new Promise((r) => setTimeout(r, 400)); frames.push(await least()); await new Promise((r) => setTimeout(r, 100)); } return [times, frames]; })();`);
    say(`a filter of the ${names[view]} reacts, until it is painted`, median(filtering), 100, `a frame with one word changed ${median(frames).toFixed(0)} ms, `);
    await browser.run(`document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true })); return 1`);
    await browser.until(`!document.querySelector('input[placeholder=Title]')`);
    // What keeps the page busy while a card is dragged over it, and while it is scrolled.
    await browser.run(`window.__long = []; new PerformanceObserver((l) => { for (const e of l.getEntries()) window.__long.push(e.duration); }).observe({ type: 'longtask' }); return 1`);
    const from = await browser.run(`const c = document.querySelector('[data-load]'); if (!c) return null; c.scrollIntoView({ block: 'center' }); const r = c.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]`);
    if (from) {
      const mouse = (type, x, y, more = {}) => browser.cdp('Input.dispatchMouseEvent', { type, x, y, button: 'left', buttons: 1, clickCount: 1, ...more });
      await mouse('mousePressed', from[0], from[1]);
      for (let i = 1; i <= 40; i++) await mouse('mouseMoved', from[0] + 400 * Math.sin(i / 6), from[1] + 120 * Math.cos(i / 5));
      await browser.run(`dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true })); return 1`);
      await mouse('mouseReleased', from[0], from[1], { buttons: 0 });
    }
    for (let i = 0; i < 12; i++) { await browser.run(`scrollBy(0, ${i < 6 ? 300 : -300}); return 1`); await browser.pause(60); }
    say(`longest task while a card of the ${names[view]} is dragged and it is scrolled`, Math.max(0, ...(await browser.run('return window.__long'))), 100);
  }
} finally {
  await browser.close();
}
