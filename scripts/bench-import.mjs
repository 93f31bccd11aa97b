// Figures of importing: node bench-import.mjs make FILE, then node bench-import.mjs run ADDRESS SERVER_PROCESS FILE READ_MS RESULT_FILE
import { readFileSync, writeFileSync } from 'node:fs';
import { calibration } from './calibration.mjs';

const [what, ...args] = process.argv.slice(2);
if (what === 'make') make(args[0]);
else await run(...args);

/** Twenty thousand posts of invented words, a tenth of them with a time. */
function make(file) {
  let seed = 7;
  const next = (n) => (seed = (seed * 1103515245 + 12345) & 0x7fffffff) % n;
  const syllables = 'ba be bo da de do fa fe ga go ka ke la le lo ma me mo na ne no pa pe ra re ro sa se ta te to va ve wa we'.split(' ');
  const words = Array.from({ length: 4000 }, () => Array.from({ length: 2 + next(3) }, () => syllables[next(syllables.length)]).join(''));
  const some = (n) => Array.from({ length: n }, () => words[next(words.length)]).join(' ');
  const categories = ['Sightings', 'Field craft', 'Ringing data', 'Island life', 'Walks & stays', 'Appeals'];
  const mark = Date.now().toString(36);
  const rows = Array.from({ length: 20000 }, (_, i) => {
    const day = new Date(Date.now() + (30 + (i % 300)) * 864e5).toISOString().slice(0, 10);
    const when = i % 10 === 0 ? `${day},${8 + (i % 12)}:${String((i * 7) % 60).padStart(2, '0')}` : ',';
    return `Post ${i},${categories[i % 6]},"${some(28)}, ${some(1)} #${some(1)}",https://marram.example.org/${i},${when},${mark}-${i}`;
  });
  writeFileSync(file, `Title,Category,Text,Link,Date,Time,Outside id\n${rows.join('\n')}\n`);
}

async function run(address, process_, file, readMs, result) {
  const line = (name, value, reference, ratio, target, holds) => console.log(`${name} | ${value} | ${reference} | ${ratio} | ${target} | ${holds ? 'holds' : 'falls short'}`);
  let cookie = '';
  const call = async (method, path, body) => {
    const headers = { cookie, ...(body && !(body instanceof FormData) && { 'content-type': 'application/json' }) };
    const answer = await fetch(address + path, { method, headers, body: body instanceof FormData ? body : body && JSON.stringify(body) });
    const set = answer.headers.getSetCookie();
    if (set.length > 0) cookie = set.map((c) => c.split(';')[0]).join('; ');
    const text = await answer.text();
    if (!answer.ok) throw new Error(`${path}: ${text}`);
    return text ? JSON.parse(text) : null;
  };
  const megabytes = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${process_}/status`, 'utf8'))[1]) / 1024;
  const pause = (ms) => new Promise((done) => setTimeout(done, ms));
  await call('POST', '/api/session', { email: 'wren@marram.example.org', password: 'first light' });
  const at = `/api/workspaces/${(await call('GET', '/api/session')).workspaces.find((w) => w.slug === 'marram').id}`;
  const begin = async () => {
    const form = new FormData();
    form.append('files', new File([readFileSync(file)], 'bench.csv'));
    const start = performance.now();
    const { id } = await call('POST', `${at}/imports`, form);
    let [first, most] = [null, 0];
    for (;;) {
      const view = await call('GET', `${at}/imports/${id}`);
      most = Math.max(most, megabytes());
      if (view.progress.checked >= 200) first ??= performance.now() - start;
      if (view.progress.isComplete) return { id, first, all: performance.now() - start, most, revision: view.revision };
      await pause(first ? 150 : 40);
    }
  };
  // A server that has imported before: what is measured is the import, not the compiling of it.
  const warm = await begin();
  await call('DELETE', `${at}/imports/${warm.id}`);
  await pause(3000);
  const idle = megabytes();
  const one = await begin();
  const reading = `CsvHelper merely reads the file in ${Number(readMs).toFixed(0)} ms, ${calibration()}`;
  line('import of 20,000 rows: the first 200 checked', `${one.first.toFixed(0)} ms`, reading, `${(one.first / readMs).toFixed(1)} ×`, 'within 1 s', one.first <= 1000);
  line('import of 20,000 rows: all checked', `${(one.all / 1000).toFixed(1)} s`, reading, `${(one.all / readMs).toFixed(0)} ×`, 'within 20 s', one.all <= 20000);
  line('import of 20,000 rows: memory above the idle server', `${(one.most - idle).toFixed(0)} MB`, `idle ${idle.toFixed(0)} MB`, '–', 'at most 100 MB', one.most - idle <= 100);
  const edits = [];
  const unchanged = { values: null, leftOut: null, joined: null, ifThere: null, takeOffered: false, fit: null, reset: false };
  for (let i = 0; i < 11; i++) {
    const start = performance.now();
    await call('POST', `${at}/imports/${one.id}/rows`, { which: { rows: [200 + i], status: null, search: null, about: null }, ...unchanged, values: { text: `Mended ${i}` } });
    edits.push(performance.now() - start);
    await pause(300);
  }
  const edit = edits.toSorted((a, b) => a - b)[5];
  line('a mended cell among 20,000 rows answers', `${edit.toFixed(0)} ms`, '–', '–', 'within 100 ms', edit <= 100);
  let view;
  do {
    await pause(100);
    view = await call('GET', `${at}/imports/${one.id}`);
  } while (!view.progress.isComplete);
  const start = performance.now();
  await call('POST', `${at}/imports/${one.id}/commit`, { revision: view.revision });
  do {
    await pause(50);
    view = await call('GET', `${at}/imports/${one.id}`);
  } while (view.commit);
  const commit = performance.now() - start;
  if (view.trouble) throw new Error(view.trouble);
  writeFileSync(result, `${commit.toFixed(0)} ${view.line.changeSetId} ${view.line.posts} ${view.line.deliveries}\n`);
  await call('POST', `${at}/imports/${one.id}/take-back`);
}
