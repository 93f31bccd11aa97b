// What hostile files take of the server: node bench-hostile.mjs ADDRESS SERVER_PROCESS
import { readFileSync } from 'node:fs';
import { deflateRawSync, crc32 } from 'node:zlib';
import { calibration } from './calibration.mjs';

const [address, server] = process.argv.slice(2);
const most = 200;
let cookie = '';

async function call(method, path, body) {
  const answer = await fetch(address + path, { method, headers: { cookie, ...(typeof body === 'string' && { 'content-type': 'application/json' }) }, body });
  const set = answer.headers.getSetCookie();
  if (set.length > 0) cookie = set.map((c) => c.split(';')[0]).join('; ');
  const text = await answer.text();
  return { status: answer.status, body: text ? JSON.parse(text) : null };
}

const megabytes = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server}/status`, 'utf8'))[1]) / 1024;
const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/** A packed file of these texts. */
function packed(entries) {
  const [parts, list] = [[], []];
  let at = 0;
  for (const [name, text] of entries) {
    const [bytes, title] = [Buffer.from(text), Buffer.from(name)];
    const small = deflateRawSync(bytes, { level: 6 });
    const head = Buffer.alloc(26);
    head.writeUInt16LE(20, 0);
    head.writeUInt16LE(8, 4);
    head.writeUInt32LE(crc32(bytes), 10);
    head.writeUInt32LE(small.length, 14);
    head.writeUInt32LE(bytes.length, 18);
    head.writeUInt16LE(title.length, 22);
    parts.push(Buffer.from('PK\u0003\u0004', 'latin1'), head, title, small);
    const end = Buffer.alloc(16);
    end.writeUInt32LE(at, 12);
    list.push(Buffer.from('PK\u0001\u0002\u0014\u0000', 'latin1'), head, end.subarray(0, 16), title);
    at += 30 + title.length + small.length;
  }
  const listed = Buffer.concat(list);
  const close = Buffer.alloc(22);
  close.write('PK\u0005\u0006', 'latin1');
  close.writeUInt16LE(entries.length, 8);
  close.writeUInt16LE(entries.length, 10);
  close.writeUInt32LE(listed.length, 12);
  close.writeUInt32LE(at, 16);
  return Buffer.concat([...parts, listed, close]);
}

const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const relations = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const workbook = (rows) =>
  packed([
    ['xl/worksheets/sheet1.xml', `<worksheet xmlns="${main}"><sheetData>${rows}</sheetData></worksheet>`],
    ['xl/workbook.xml', `<workbook xmlns="${main}" xmlns:r="${relations}"><sheets><sheet name="Posts" sheetId="1" r:id="rId1"/></sheets></workbook>`],
    [
      'xl/_rels/workbook.xml.rels',
      `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${relations}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
    ],
  ]);

const many = (text, n) => text.repeat(n);
const sheets = {
  'one row with the highest number': ['a.xlsx', () => workbook('<row r="2147483647"><c><v>1</v></c></row>')],
  'a cell of 250 MB': ['b.xlsx', () => workbook(`<row><c t="inlineStr"><is><t>${many('x', 250_000_000)}</t></is></c></row>`)],
  'a million empty rows': ['c.xlsx', () => workbook(`<row><c><v>1</v></c></row>${many('<row/>', 1_000_000)}`)],
  '100 MB of cells': ['d.xlsx', () => workbook(many('<row><c><v>1</v></c><c><v>2</v></c></row>', 2_400_000))],
  '15 million line breaks': ['e.csv', () => Buffer.from(`title\nx${many('\n', 15_000_000)}`)],
  '5 million cells of one letter': ['f.csv', () => Buffer.from(many(`${many('a,', 199)}a\n`, 25_000))],
  '16 MB of quotation marks': ['g.csv', () => Buffer.from(`title\n${many('"', 16_000_000)}`)],
  '8 million delimiters in a row': ['h.csv', () => Buffer.from(many(',', 8_000_000))],
  '25,000 rows of 600 letters': ['i.csv', () => Buffer.from(`title,text\n${many(`name,"${many('abcdef', 100)}"\n`, 24_900)}`)],
};

await call('POST', '/api/session', JSON.stringify({ email: 'wren@marram.example.org', password: 'first light' }));
const session = await call('GET', '/api/session');
const at = `/api/workspaces/${session.body.workspaces.find((w) => w.slug === 'marram').id}`;

/** Sends it, and notes how long that took and how much memory the server had at most. */
async function send(name, make) {
  const bytes = make();
  await pause(1500);
  const idle = megabytes();
  let peak = idle;
  const watch = setInterval(() => (peak = Math.max(peak, megabytes())), 10);
  const form = new FormData();
  form.append('files', new File([bytes], name));
  const start = performance.now();
  const { status, body } = await call('POST', `${at}/imports`, form);
  const took = performance.now() - start;
  await pause(500);
  clearInterval(watch);
  if (body?.id) await call('DELETE', `${at}/imports/${body.id}`);
  return { status, took, more: peak - idle };
}

await send('warm.csv', () => Buffer.from('title,text\nx,y\n'));
for (const [what, [name, make]] of Object.entries(sheets)) {
  const { status, took, more } = await send(name, make);
  console.log(
    `hostile sheet, ${what}: memory above the idle server | ${more.toFixed(0)} MB, answered ${status} in ${(took / 1000).toFixed(1)} s | ${calibration()} | – | at most ${most} MB | ${more <= most ? 'holds' : 'falls short'}`,
  );
}
