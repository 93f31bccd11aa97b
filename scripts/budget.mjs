// How long the tests took, beside what they may take.
//   node scripts/budget.mjs loop                       prints the calibration loop's time in milliseconds
//   node scripts/budget.mjs judge TIMES LOOPS LOG...   says where the time of each part went and holds each against tests/budget.json
import { readFileSync } from 'node:fs';
import { loopMilliseconds } from './calibration.mjs';

const median = (values) => values.toSorted((a, b) => a - b)[values.length >> 1];

const seconds = (words) =>
  [...words.matchAll(/(\d+)(ms|m|s|h)/g)].reduce((sum, [, n, unit]) => sum + n * { ms: 0.001, s: 1, m: 60, h: 3600 }[unit], 0);

const lines = (file) => readFileSync(file, 'utf8').split('\n').filter(Boolean);

/** The classes and the tests of a part that took longest. */
function whereTimeGoes(log) {
  const tests = lines(log)
    .map((line) => /^(?:passed|failed) (.*?) \(((?:\d+(?:ms|m|s|h) ?)+)\)$/.exec(line))
    .filter((found) => found !== null)
    .map(([, name, took]) => ({ type: name.split('(')[0].split('.').at(-2), name: name.slice(name.split('(')[0].lastIndexOf('.') + 1), took: seconds(took) }));
  if (tests.length === 0) return;
  const part = /([^/]+)\.log$/.exec(log)[1];
  const sum = (of) => of.reduce((all, { took }) => all + took, 0);
  const classes = [...new Set(tests.map((t) => t.type))]
    .map((type) => ({ type, took: sum(tests.filter((t) => t.type === type)) }))
    .toSorted((a, b) => b.took - a.took);
  console.log(`where the time of ${part} went: ${tests.length} tests, ${sum(tests).toFixed(0)} s side by side`);
  console.log(`  ${classes.slice(0, 6).map(({ type, took }) => `${type} ${took.toFixed(0)} s`).join(', ')}`);
  for (const { type, name, took } of tests.toSorted((a, b) => b.took - a.took).slice(0, 5))
    console.log(`  ${took.toFixed(1).padStart(6)} s  ${type}.${name}`);
}

function judge(times, loops, logs) {
  const budget = JSON.parse(readFileSync(new URL('../tests/budget.json', import.meta.url), 'utf8'));
  for (const log of logs) whereTimeGoes(log);

  const measured = median(lines(loops).map(Number));
  const scale = Math.max(1, measured / budget.loopMilliseconds);
  console.log(
    `time by part (calibration loop ${measured.toFixed(1)} ms; budgets are for ${budget.loopMilliseconds} ms, times ${scale.toFixed(2)} here):`,
  );
  // A part alone may meet a moment in which the machine stands still: only the whole fails a run.
  let over = false;
  for (const line of lines(times)) {
    const [part, took] = line.split(' ');
    const allowed = budget.seconds[part];
    if (allowed === undefined) continue;
    const scaled = allowed * scale;
    const fails = part === 'whole' && took > 2 * scaled;
    const word = fails ? 'FAILS: more than twice its budget' : took > scaled ? 'warning: over its budget' : 'within';
    over ||= fails;
    console.log(`  ${part.padEnd(9)} ${String(Math.round(took)).padStart(4)} s of ${String(Math.round(scaled)).padStart(4)}  ${word}`);
  }
  process.exitCode = over ? 1 : 0;
}

const [command, ...rest] = process.argv.slice(2);
if (command === 'loop') {
  loopMilliseconds();
  console.log(median(Array.from({ length: 5 }, loopMilliseconds)).toFixed(2));
} else if (command === 'judge') {
  judge(rest[0], rest[1], rest.slice(2));
} else {
  console.error('Say loop or judge.');
  process.exitCode = 2;
}
