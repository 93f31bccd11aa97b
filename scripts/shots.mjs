// Takes one picture of each main view of a fresh demo: node shots.mjs ADDRESS FOLDER DRIVER_PORT [VIEW...]
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { openBrowser } from './browser.mjs';

const [address, folder, port, ...only] = process.argv.slice(2);
const demo = { email: 'wren@marram.example.org', password: 'first light' };
const still = `!document.querySelector('[role=status]:not([data-standing], [id^=DndLive])') && [...document.images].every((i) => i.complete || i.getBoundingClientRect().top > innerHeight)`;

const views = {
  'sign-in': { open: '/', signedOut: true },
  today: { open: '/w/marram/today' },
  'week-in-lanes': { open: '/w/marram/calendar', then: chooseEntry('sent') },
  'week-by-category': { open: '/w/marram/calendar?lanes=category' },
  'line-up': { open: '/w/marram/calendar?view=list' },
  month: { open: '/w/marram/calendar?view=month' },
  year: { open: '/w/marram/calendar?view=year' },
  'all-workspaces': { open: '/all' },
  rota: { open: '/w/marram/rota' },
  bank: { open: '/w/marram/bank' },
  media: { open: '/w/marram/media?sort=picture', then: chooseFile },
  'post-desk': { open: '/w/marram/bank?search=Dawn%20walk%20on', then: chooseTime },
  previews: { open: '/w/marram/bank?search=Dawn%20walk%20on', then: openPreviews },
  crops: { open: '/w/marram/bank?search=Dawn%20walk%20on', then: openCrops },
  'import-columns': { open: '/w/marram/bank/import', then: beginImport },
  import: { open: '/w/marram/bank/import', then: lookAtRows },
  results: { open: '/w/marram/results' },
  'set-up': { open: '/w/marram/set-up' },
};

function chooseEntry(state) {
  return (browser) => browser.click(`[data-entry][data-state=${state}]`);
}

async function openFirstPost(browser) {
  await browser.click('main li a');
  await browser.until(`document.querySelectorAll('[data-count]').length > 1`);
}

async function chooseFile(browser) {
  await browser.until(`document.querySelectorAll('[data-media]').length > 10`);
  await browser.click('li:nth-child(4) [data-media]');
  await browser.until(`document.querySelector('[data-sheet] [data-focus-point] img')`);
}

async function chooseTime(browser) {
  await openFirstPost(browser);
  await browser.run(`[...document.querySelectorAll('[role=radiogroup] input')].at(3).click()`);
  await browser.until(`document.querySelector('[data-good-hours]')`);
}

async function openPreviews(browser) {
  await openFirstPost(browser);
  await browser.clickText('As it will look');
  await browser.until(`document.querySelectorAll('[data-previews] article').length > 3`);
}

async function openCrops(browser) {
  await openFirstPost(browser);
  await browser.click('[aria-label^="Crop picture"]');
  await browser.click('[data-crop-of=corkwall]');
  await browser.clickText('As suggested');
}

async function beginImport(browser) {
  const rows = [
    'Plan for the spring;;;;;',
    'Date;Time;Network;Pillar;Copy;Media',
    '03/04/2027;07:00;Jot;Walks & stays;Dawn walk on the north path: six of us, and the first chiffchaff.;https://marram.example.org/walks',
    '03/04/2027;12:30;Hearth;Walks & stays;Six of us walked the north path at dawn, and the first chiffchaff of the year was waiting at the gate.;https://marram.example.org/walks',
    '05/04/2027;;Hearth;Island life;The noon ferry brings bread and a new bell rope. Come and carry.;',
    '06/04/2027;09:00;Jot;Sightings;Two counters, one harbour: 412 and 409 gulls. We believe the second.;gulls.png',
    '07/04/2027;18:00;Hearth;Sighting;A row whose category has a slip of the pen.;',
    '08/04/2027;18:00;Jot;Field craft;How to tell a sanderling from a dunlin: watch which of them runs with the wave.;',
    'Total;6;;;;',
  ];
  await browser.run(
    `const transfer = new DataTransfer(); transfer.items.add(new File([arguments[0]], 'spring.csv', { type: 'text/csv' }));
     const input = document.querySelector('input[type=file]'); input.files = transfer.files;
     input.dispatchEvent(new Event('change', { bubbles: true }));`,
    rows.join('\n'),
  );
  await browser.until(`document.body.innerText.includes('which way round?')`);
}

async function lookAtRows(browser) {
  await beginImport(browser);
  await browser.clickText('Day first');
  await browser.until(`document.body.innerText.includes('Date: day first')`);
  await browser.clickText('On to its rows');
  await browser.until(`document.querySelectorAll('[role=grid] [role=row]').length > 6`);
  await browser.until(`!document.body.innerText.includes('looking …')`);
  await browser.click('[data-cell="2 2"]');
}

mkdirSync(folder, { recursive: true });
const browser = await openBrowser({ port: Number(port) });
try {
  let signedIn = false;
  for (const [name, view] of Object.entries(views)) {
    if (!view.signedOut && !signedIn) {
      await browser.go(address);
      await browser.type('input[type=email]', demo.email);
      await browser.type('input[type=password]', demo.password);
      await browser.click('button[type=submit]');
      await browser.until(`document.querySelector('nav')`);
      signedIn = true;
    }
    if (only.length > 0 && !only.includes(name)) continue;
    await browser.go(address + view.open);
    await browser.until(`document.querySelector(${JSON.stringify(view.signedOut ? 'form' : 'main h1, main h2')})`);
    await browser.until(still, 'the view at rest');
    if (view.then) await view.then(browser);
    await browser.pause(400);
    await browser.until(still, 'the view at rest');
    await browser.shot(join(folder, `${name}.png`));
    console.log(`  ${name}.png`);
  }
} finally {
  await browser.close();
}
