import type { Network } from '../networks/networks';
import type { NetworkCheck } from '../posts/posts';
import type { Mark } from './text/marks';
import type { MarkedText } from './text/RichText';

/** What one network sees in a text: its links, hashtags and mentions, what lies beyond its limit, and where its findings are. */
export function marksOf(check: NetworkCheck, name: string, field = 'text'): MarkedText {
  const text = check.content.text ?? '';
  const marks: Mark[] = [];
  if (field === 'text') {
    for (const part of check.parts) marks.push({ start: part.start ?? 0, length: part.length ?? 0, kind: 'part' });
    if (check.overflowAt !== null)
      marks.push({
        start: check.overflowAt,
        length: text.length - check.overflowAt,
        kind: 'over',
        title: `Beyond the ${check.limit.toLocaleString('en-GB')} of ${name}`,
      });
  }
  for (const finding of check.findings) {
    if (finding.field !== field || finding.item !== null) continue;
    for (const span of finding.spans ?? [])
      marks.push({
        start: span.start ?? 0,
        length: span.length ?? 0,
        kind: finding.blocks ? 'block' : 'advice',
        title: `${name}: ${finding.words}`,
      });
  }
  return { text, marks };
}

/**
 * What the networks together see in the text that they share. Where one sends another text than was written (a mention becomes its handle),
 * its places would be others: then only those count that lie before the first difference.
 */
export function sharedMarks(
  written: string,
  checks: readonly NetworkCheck[],
  networks: readonly Network[],
): MarkedText {
  const text = written.normalize('NFC');
  const seen = new Set<string>();
  const marks: Mark[] = [];
  for (const check of checks) {
    const found = marksOf(check, networks.find((n) => n.key === check.network)?.name ?? check.network);
    const same = sameUntil(found.text, text);
    for (const mark of found.marks) {
      if (mark.start > same || (mark.kind !== 'over' && mark.start + mark.length > same)) continue;
      const length = mark.kind === 'over' ? text.length - mark.start : mark.length;
      const key = `${mark.kind} ${mark.start} ${length} ${mark.title}`;
      if (length <= 0 || seen.has(key)) continue;
      seen.add(key);
      marks.push({ ...mark, length });
    }
  }
  return { text, marks };
}

function sameUntil(a: string, b: string): number {
  const end = Math.min(a.length, b.length);
  let at = 0;
  while (at < end && a.charCodeAt(at) === b.charCodeAt(at)) at++;
  return at;
}
