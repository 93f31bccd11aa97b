// Makes the change of CONTRIBUTING.md ("One change, from end to end"), word for word, in the repository whose root is given.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const root = process.argv[2];
const section = readFileSync(join(root, 'CONTRIBUTING.md'), 'utf8').split('## One change, from end to end')[1].split('\n## ')[0];
const steps = [...section.matchAll(/In `([^`]+)`, (above|below) `([^`]+)`:\n\n```\w+\n([\s\S]*?)```/g)];
if (steps.length === 0) throw new Error('CONTRIBUTING.md shows no change any more.');
for (const [, file, where, anchor, text] of steps) {
  const lines = readFileSync(join(root, file), 'utf8').split('\n');
  const at = lines.findIndex((line) => line.startsWith(anchor));
  if (at < 0) throw new Error(`${file} has no line that begins with “${anchor}”.`);
  lines.splice(where === 'above' ? at : at + 1, 0, ...text.replace(/\n$/, '').split('\n'));
  writeFileSync(join(root, file), lines.join('\n'));
  console.log(`changed ${file}`);
}
