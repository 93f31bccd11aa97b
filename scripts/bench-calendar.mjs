// The calendar over HTTP: node bench-calendar.mjs ADDRESS month|year|changed|started|overview DELIVERIES
import { asking } from './asking.mjs';
import { steadyLoop, under, withinAt } from './calibration.mjs';

const [address, what, deliveries] = process.argv.slice(2);
const loop = steadyLoop();
const beside = `calibration loop ${loop.toFixed(0)} ms`;
const ask = await asking(address);
const { said: session } = await ask('/api/session');
const workspace = `/api/workspaces/${session.workspaces.find((w) => w.slug === 'marram').id}`;
const { said: now } = await ask(workspace);
const day = (days) => new Date(Date.parse(now.today) + days * 864e5).toISOString().slice(0, 10);
/** The first answer, and the middle of the last seven of thirty. */
async function measure(path) {
  const first = (await ask(path)).took;
  const times = [];
  for (let i = 0; i < 30; i++) times.push((await ask(path)).took);
  return { first, warm: times.slice(-7).toSorted((a, b) => a - b)[3] };
}
const say = (name, { first, warm }, most, mostFirst) =>
  console.log(`${name} | ${warm.toFixed(0)} ms, first ${first.toFixed(0)} ms | ${beside} | – | ${under(most)}, first ${under(mostFirst)} | ${withinAt(loop, warm, most) && withinAt(loop, first, mostFirst) ? 'holds' : 'falls short'}`);
if (what === 'month') {
  const path = `${workspace}/line-up?from=${day(60)}&to=${day(90)}`;
  const entries = (await ask(path)).said.entries.length;
  say(`calendar, a month of ${entries} entries, ${deliveries} of them deliveries`, await measure(path), 150, 2000);
  const overview = (await ask('/api/overview')).said;
  say(`all ${overview.length} workspaces of the demo, today and tomorrow`, await measure('/api/overview'), 300, 2000);
} else if (what === 'overview') {
  const overview = (await ask('/api/overview')).said;
  say(`all ${overview.length} workspaces, ${deliveries} of them as large as the demo’s, today and tomorrow`, await measure('/api/overview'), 300, 5000);
} else {
  const year = `${workspace}/line-up/density?from=${day(-300)}&to=${day(64)}`;
  const name = `calendar, density of a year with ${deliveries} deliveries`;
  const once = (words, took) => console.log(`${name}, ${words} | ${took.toFixed(0)} ms | ${beside} | – | ${under(2000)} | ${withinAt(loop, took, 2000) ? 'holds' : 'falls short'}`);
  if (what === 'started') once('by a server that has just started', (await ask(year)).took);
  else if (what === 'changed') once('after the plan has changed', await afterChanges(year));
  else say(name, await measure(year), 300, 2000);
}

/** The middle of what it takes after each of seven changes: a pause of one channel for a day, and its end. */
async function afterChanges(path) {
  const { said: channels } = await ask(`${workspace}/channels`);
  const times = [];
  for (let i = 0; i < 7; i++) {
    const pause = { what: 'channel', target: channels[0].id, from: day(40 + i), to: day(40 + i) };
    const made = (await ask(`${workspace}/pauses`, 'POST', pause)).said;
    try {
      times.push((await ask(path)).took);
    } finally {
      await ask(`${workspace}/pauses/${made.id}`, 'DELETE');
    }
  }
  return times.toSorted((a, b) => a - b)[3];
}
