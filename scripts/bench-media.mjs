// Figures of media: node bench-media.mjs ADDRESS DRIVER_PORT SERVER_PROCESS
import { calibration } from './calibration.mjs';
import { readFileSync, writeFileSync } from 'node:fs';
import { deflateSync, crc32 } from 'node:zlib';
import { openBrowser } from './browser.mjs';

const [address, port, server] = process.argv.slice(2);
const line = (name, value, reference, ratio, target, holds) => console.log(`${name} | ${value} | ${reference} | ${ratio} | ${target} | ${holds ? 'holds' : 'falls short'}`);

const loop = calibration();

const signedIn = await fetch(`${address}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'wren@marram.example.org', password: 'first light' }) });
const cookie = signedIn.headers.getSetCookie().map((c) => c.split(';')[0]).join('; ');
const ask = (path, init = {}) => fetch(address + path, { ...init, headers: { cookie, ...init.headers } });
const id = (await (await ask('/api/session')).json()).workspaces.find((w) => w.slug === 'marram').id;
const base = `/api/workspaces/${id}`;

// 200 MB in pieces: how much memory the server needs for it at most.
const memory = (name) => Number(readFileSync(`/proc/${server}/status`, 'utf8').match(new RegExp(`${name}:\\s+(\\d+)`))[1]) / 1024;
const box = (type, ...parts) => { const content = Buffer.concat(parts); const head = Buffer.alloc(8); head.writeUInt32BE(content.length + 8); head.write(type, 4, 'latin1'); return Buffer.concat([head, content]); };
const number = (...values) => { const b = Buffer.alloc(4 * values.length); values.forEach((v, i) => b.writeUInt32BE(v >>> 0, 4 * i)); return b; };
const bytes = 200 * 1024 * 1024;
const entry = Buffer.alloc(78);
entry.writeUInt16BE(1280, 24); entry.writeUInt16BE(720, 26);
const stamp = Date.now() % 1_000_000;
const movie = box('moov', box('mvhd', number(0, 0, stamp, 1000, 9000), Buffer.alloc(80)),
  box('trak', box('tkhd', number(7, 0, 0, 1, 0, 9000), Buffer.alloc(16), number(0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000), number(1280 << 16, 720 << 16)),
    box('mdia', box('mdhd', number(0, 0, 0, 1000, 9000, 0)), box('hdlr', Buffer.alloc(8), Buffer.from('vide'), Buffer.alloc(13)),
      box('minf', box('stbl', box('stsd', number(0, 1), box('avc1', entry)), box('stsz', number(0, 0, 1, 64)), box('stco', number(0, 1, 100)))))));
const head = Buffer.concat([box('ftyp', Buffer.from('isom\0\0\0\0isom', 'latin1')), movie]);
const mdat = Buffer.alloc(8);
mdat.writeUInt32BE(bytes - head.length); mdat.write('mdat', 4);
const piece = Buffer.alloc(4 * 1024 * 1024);
for (let i = 0; i < 3; i++) await ask(`${base}/media?take=60`);
writeFileSync(`/proc/${server}/clear_refs`, '5');
const idle = memory('VmRSS');
const begun = await ask(`${base}/uploads`, { method: 'POST', headers: { 'tus-resumable': '1.0.0', 'upload-length': String(bytes), 'upload-metadata': `filename ${Buffer.from('long.mp4').toString('base64')}` } });
const upload = begun.headers.get('location');
const start = performance.now();
for (let sent = 0; sent < bytes; ) {
  const body = sent === 0 ? Buffer.concat([head, mdat, piece]).subarray(0, piece.length) : piece.subarray(0, Math.min(piece.length, bytes - sent));
  const answer = await ask(upload, { method: 'PATCH', body, headers: { 'tus-resumable': '1.0.0', 'upload-offset': String(sent), 'content-type': 'application/offset+octet-stream' } });
  if (answer.status !== 204) throw new Error(await answer.text());
  sent += body.length;
}
const file = await (await ask(`${upload}/media`, { method: 'POST' })).json();
if (file.bytes !== bytes) throw new Error(JSON.stringify(file));
const more = memory('VmHWM') - idle;
line('200 MB uploaded in pieces: memory above the idle server', `${more.toFixed(0)} MB`, `idle ${idle.toFixed(0)} MB, took ${((performance.now() - start) / 1000).toFixed(1)} s, ${loop}`, '–', 'under 100 MB', more < 100);
await ask(`${base}/media/removal`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ files: [file.id] }) });

// Five thousand pictures, made once and kept for the next time.
const png = (n) => {
  const chunk = (type, data) => { const b = Buffer.concat([Buffer.from(type), data]); const out = Buffer.alloc(8); out.writeUInt32BE(data.length); out.writeUInt32BE(crc32(b), 4); return Buffer.concat([out.subarray(0, 4), b, out.subarray(4)]); };
  const rows = Buffer.concat(Array.from({ length: 40 }, (_, y) => Buffer.concat([Buffer.from([0]), Buffer.alloc(60 * 3, (n * 7 + y) % 256)])));
  rows.writeUInt32BE(n, 1);
  return Buffer.concat([Buffer.from('89504e470d0a1a0a', 'hex'), chunk('IHDR', Buffer.concat([number(60, 40), Buffer.from([8, 2, 0, 0, 0])])), chunk('IDAT', deflateSync(rows)), chunk('IEND', Buffer.alloc(0))]);
};
const page = async () => (await ask(`${base}/media?take=60`)).json();
const there = (await page()).total;
let next = there;
await Promise.all(Array.from({ length: 8 }, async () => {
  while (next < 5_000) {
    const n = next++;
    const form = new FormData();
    form.append('file', new File([png(n)], `print-${String(n).padStart(4, '0')}.png`));
    const answer = await ask(`${base}/media`, { method: 'POST', body: form });
    if (!answer.ok) throw new Error(await answer.text());
  }
}));
const times = [];
for (let i = 0; i < 9; i++) { const from = performance.now(); await page(); times.push(performance.now() - from); }
const list = times.toSorted((a, b) => a - b)[4];

const browser = await openBrowser({ port: Number(port) });
try {
  await browser.go(address);
  await browser.type('input[type=email]', 'wren@marram.example.org');
  await browser.type('input[type=password]', 'first light');
  await browser.click('button[type=submit]');
  await browser.until(`document.querySelector('[data-day-tick]')`);
  // The view's script is loaded once; what it shows is fetched anew each time.
  const shown = [];
  for (let i = 0; i < 6; i++) {
    await browser.go(`${address}/w/marram/today`);
    await browser.until(`document.querySelector('[data-day-tick]')`);
    // As somebody who has had the page open for a while.
    await browser.pause(4000);
    shown.push(await browser.run(`
      return new Promise((done) => { const from = performance.now(); [...document.querySelectorAll('nav a')].find((a) => a.textContent === 'Media').click();
        const look = () => document.querySelectorAll('[data-media]').length >= 20 ? done(performance.now() - from) : requestAnimationFrame(look); look(); });`));
  }
  const first = shown.slice(1).toSorted((a, b) => a - b)[2];
  line(`first screen of ${(await page()).total.toLocaleString('en-GB')} files`, `${first.toFixed(0)} ms from the press`, `the list alone ${list.toFixed(0)} ms, ${loop}`, `${(first / list).toFixed(1)} ×`, 'under 200 ms', first < 200);
} finally {
  await browser.close();
}
