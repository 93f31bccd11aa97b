// Figures of results over HTTP: node bench-results.mjs ADDRESS DELIVERIES [MS], where MS is what a plain sum takes: then of the totals alone.
import { steadyLoop, under, withinAt } from './calibration.mjs';

const [address, deliveries, byHand] = process.argv.slice(2);
const loop = steadyLoop();
const beside = `calibration loop ${loop.toFixed(0)} ms`;
const signedIn = await fetch(`${address}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'wren@marram.example.org', password: 'first light' }) });
const cookie = signedIn.headers.getSetCookie().map((c) => c.split(';')[0]).join('; ');
const ask = async (path) => {
  const start = performance.now();
  const answer = await fetch(address + path, { headers: { cookie } });
  const text = await answer.text();
  if (!answer.ok) throw new Error(`${path}: ${text}`);
  return { took: performance.now() - start, said: JSON.parse(text) };
};
const { said: session } = await ask('/api/session');
const workspace = `/api/workspaces/${session.workspaces.find((w) => w.slug === 'marram').id}`;
const { said: now } = await ask(workspace);
const to = now.today;
const from = new Date(Date.parse(to) - 363 * 864e5).toISOString().slice(0, 10);
if (byHand) {
  const times = [];
  for (let i = 0; i < 8; i++) times.push((await ask(`${workspace}/results/totals?from=${from}&to=${to}`)).took);
  const middle = times.slice(1).toSorted((a, b) => a - b)[3];
  const ratio = middle / Number(byHand);
  console.log(`results, totals by category of ${deliveries} deliveries | ${middle.toFixed(0)} ms | a plain sum in SQL ${Number(byHand).toFixed(0)} ms, ${beside} | ${ratio.toFixed(2)} × | at most 3 × | ${ratio <= 3 ? 'holds' : 'falls short'}`);
  process.exit();
}
const views = [
  ['by category', `results?from=${from}&to=${to}`],
  ['by category, a rate', `results?from=${from}&to=${to}&measure=engagementRateByReach`],
  ['deliveries behind it', `results/deliveries?from=${from}&to=${to}&sort=best&take=50`],
  ...['channel', 'daypart', 'post', 'wording', 'hashtag', 'anyCategory'].map((by) => [`by ${by}`, `results/groups?from=${from}&to=${to}&by=${by}`]),
];
const middle = (times) => times.toSorted((a, b) => a - b)[times.length >> 1];
const later = new Date(Date.parse(from) + 260 * 864e5).toISOString().slice(0, 10);
for (const [name, path] of views) {
  // Code that runs for the first time is compiled first, and anew once it has run often: that is paid before, on a part of the period.
  const begun = (await ask(`${workspace}/${path.replace(from, later)}`)).took;
  for (let i = 0; i < 20; i++) await ask(`${workspace}/${path.replace(from, later)}`);
  const cold = (await ask(`${workspace}/${path}`)).took;
  const times = [];
  for (let i = 0; i < 7; i++) times.push((await ask(`${workspace}/${path}`)).took);
  const warm = middle(times);
  const figures = `${warm.toFixed(0)} ms, asked for the first time ${cold.toFixed(0)} ms, by a server just started ${begun.toFixed(0)} ms`;
  console.log(`results ${name}, ${deliveries} deliveries | ${figures} | ${beside} | – | ${under(300)}, first ${under(700)} | ${withinAt(loop, warm, 300) && withinAt(loop, cold, 700) ? 'holds' : 'falls short'}`);
}
