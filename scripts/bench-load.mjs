// A large workspace in use: node bench-load.mjs ADDRESS SERVER_PROCESS [SECONDS]. Twenty people ask four times a second in all, one of them
// edits a title every fortieth second and looks at the week at once.
import { readFileSync } from 'node:fs';
import { asking } from './asking.mjs';
import { steadyLoop, under, withinAt } from './calibration.mjs';

const [address, server, seconds = '240'] = process.argv.slice(2);
const people = 20;
const aSecond = 4;
const editEvery = 40_000;

const ask = await asking(address);
const { said: session } = await ask('/api/session');
const workspace = `/api/workspaces/${session.workspaces.find((w) => w.slug === 'marram').id}`;
const { said: now } = await ask(workspace);
const day = (days) => new Date(Date.parse(now.today) + days * 864e5).toISOString().slice(0, 10);
const channel = (await ask(`${workspace}/channels`)).said[0].id;
const posts = (await ask(`${workspace}/posts`)).said.posts;

const views = [
  { name: 'posts', path: `${workspace}/posts`, most: 400 },
  { name: 'media', path: `${workspace}/media`, most: 400 },
  { name: 'needs', path: `${workspace}/needs`, most: 400 },
  { name: 'line-up of a week', path: `${workspace}/line-up?from=${day(0)}&to=${day(6)}`, most: 400 },
  { name: 'key dates', path: `${workspace}/key-dates?from=${day(0)}&to=${day(41)}`, most: 400 },
  { name: 'overview', path: `/api/overview?from=${day(0)}&to=${day(1)}`, most: 1000 },
  { name: 'runway', path: `${workspace}/runway?weeks=12`, most: 1000 },
  { name: 'hours', path: `${workspace}/hours?channel=${channel}`, most: 1000 },
  { name: 'results', path: `${workspace}/results?from=${day(-363)}&to=${day(0)}`, most: 1000 },
];
const edits = { name: 'first line-up after an edit', most: 500, times: [] };
for (const view of views) {
  // Whatever is compiled and read for the first time.
  await ask(view.path);
  view.times = [];
}

const status = (what) => Number(new RegExp(`${what}:\\s+(\\d+)`).exec(readFileSync(`/proc/${server}/status`, 'utf8'))[1]) / 1024;
// Fields 14 and 15 of stat (proc(5)), in hundredths of a second.
const processor = () => readFileSync(`/proc/${server}/stat`, 'utf8').split(') ')[1].split(' ').slice(11, 13).reduce((a, b) => a + Number(b) * 10, 0);
const memory = [];
const loops = [steadyLoop()];
const began = performance.now();
const until = began + Number(seconds) * 1000;
const busyBefore = processor();
let asked = 0;

async function person(number) {
  await pause((number * 1000) / aSecond);
  for (let turn = number; performance.now() < until; turn++) {
    const next = performance.now() + (people * 1000) / aSecond;
    const view = views[turn % views.length];
    view.times.push((await ask(view.path)).took);
    asked++;
    await pause(next - performance.now());
  }
}

async function editor() {
  for (let n = 0; performance.now() + editEvery / 2 < until; n++) {
    await pause(editEvery / 2);
    const id = posts[n].id;
    const { said: post } = await ask(`${workspace}/posts/${id}`);
    await ask(`${workspace}/posts/${id}`, 'PUT', { ...editOf(post), title: `${post.title} ${n}` }, { 'If-Match': `"${post.version}"` });
    edits.times.push((await ask(views[3].path)).took);
    asked += 3;
    await pause(editEvery / 2);
  }
}

async function watch() {
  while (performance.now() < until) {
    memory.push(status('VmRSS'));
    await pause(5000);
  }
}

await Promise.all([...Array.from({ length: people }, (_, n) => person(n)), editor(), watch()]);
loops.push(steadyLoop());
const loop = Math.max(...loops);
const beside = `calibration loop ${loops.map((l) => l.toFixed(0)).join(' and ')} ms`;
const share = (times, part) => times.toSorted((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * part))];
for (const view of [...views, edits]) {
  const p95 = share(view.times, 0.95);
  say(`in use, ${view.name} (asked ${view.times.length} times)`, `p95 ${p95.toFixed(0)} ms, half within ${share(view.times, 0.5).toFixed(0)} ms`, `p95 ${under(view.most)}`, withinAt(loop, p95, view.most));
}
say('in use, processor time of the server for each request', `${((processor() - busyBefore) / asked).toFixed(0)} ms`, '–', null);
const late = memory.slice(-Math.ceil(memory.length / 4)), early = memory.slice(Math.floor(memory.length / 4), Math.ceil(memory.length / 2));
const mean = (values) => values.reduce((a, b) => a + b, 0) / values.length;
say('in use, memory of the server', `at most ${status('VmHWM').toFixed(0)} MB, in the last quarter ${mean(late).toFixed(0)} MB, in the second ${mean(early).toFixed(0)} MB`, 'under 700 MB and flat (at most a tenth more)', status('VmHWM') < 700 && mean(late) <= mean(early) * 1.1);

function editOf({ title, categoryId, stage, lifespan, inRotation, channels, content, furtherCategories, from, to, gapDays, notes }) {
  return { title, categoryId, stage, lifespan, inRotation, channels, content, furtherCategories, from, to, gapDays, notes };
}

function pause(ms) {
  return new Promise((done) => setTimeout(done, Math.max(0, ms)));
}

function say(what, value, target, holds) {
  console.log(`${what} | ${value} | ${beside} | – | ${target} | ${holds === null ? '–' : holds ? 'holds' : 'falls short'}`);
}
