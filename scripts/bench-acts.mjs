// Acts on thousands of deliveries over HTTP: node bench-acts.mjs ADDRESS SERVER_PROCESS
import { readFileSync } from 'node:fs';
import { asking } from './asking.mjs';
import { calibration } from './calibration.mjs';

const [address, server] = process.argv.slice(2);
const ask = await asking(address);
const { said: session } = await ask('/api/session');
const workspace = `/api/workspaces/${session.workspaces.find((w) => w.slug === 'marram').id}`;
const { said: now } = await ask(workspace);
const day = (days) => new Date(Date.parse(now.today) + days * 864e5).toISOString().slice(0, 10);
const megabytes = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server}/status`, 'utf8'))[1]) / 1024;
const planned = async () => (await ask(`${workspace}/line-up?from=${day(55)}&to=${day(95)}`)).said.entries.filter((e) => e.deliveryId !== null);
const chosen = (await planned()).slice(0, 5000).map((e) => ({ id: e.deliveryId, revision: e.revision }));
const one = await act('shift', chosen.slice(0, 1), 7);
await ask(`${workspace}/changes/${one.said.changeSetId}/undo`, 'POST');
const again = new Map((await planned()).map((e) => [e.deliveryId, e.revision]));
const idle = megabytes();
const moved = await act('shift', chosen.map((c) => ({ id: c.id, revision: again.get(c.id) })), 7);
const undone = await ask(`${workspace}/changes/${moved.said.changeSetId}/undo`, 'POST');
const most = megabytes() - idle;
const loop = calibration();
say('moving', moved.took, one.took, 10_000);
say('taking that back', undone.took, one.took, 10_000);
console.log(`the same: memory above the idle server afterwards | ${most.toFixed(0)} MB | idle ${idle.toFixed(0)} MB | – | at most 300 MB | ${most <= 300 ? 'holds' : 'falls short'}`);

function act(act, deliveries, days) {
  return ask(`${workspace}/line-up/acts`, 'POST', { act, days, minutes: 0, deliveries, places: [] });
}

function say(what, took, single, mostMs) {
  console.log(`${what} ${moved.said.done} deliveries at once (${undone.said.undone} rows came back) | ${took.toFixed(0)} ms; ${loop} | one: ${single.toFixed(0)} ms | ${(took / single).toFixed(1)} × | under ${mostMs} ms | ${took < mostMs ? 'holds' : 'falls short'}`);
}
