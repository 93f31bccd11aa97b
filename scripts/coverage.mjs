// How much of our code a run of tests reached, in a line for each part.
//   node scripts/coverage.mjs FILE      a Cobertura report, or vitest's summary in JSON
import { readFileSync } from 'node:fs';

const file = process.argv[2];
const text = readFileSync(file, 'utf8');
const parts = file.endsWith('.json')
  ? [['the page (what runs without a browser)', JSON.parse(text).total.lines.pct / 100]]
  : [...text.matchAll(/<package line-rate="([\d.]+)"[^>]*name="([^"]+)"/g)]
      .map(([, rate, name]) => [name, Number(rate)])
      .filter(([name]) => name.startsWith('AbleLark.') && !name.includes('Tests'));
console.log(`    lines reached: ${parts.map(([name, rate]) => `${name} ${Math.round(rate * 100)} %`).join(', ')}`);
