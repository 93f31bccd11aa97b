import type { NetworkCheck } from '../../posts/posts';
import type { Mark } from '../text/marks';
import type { MarkedText } from '../text/RichText';

/** Found in the text as it was written: it is no longer there, or otherwise, in the text as it is sent. */
const inWriting = new Set([
  'mentionUnknown',
  'peopleNotMentioned',
  'pagesNotMentioned',
  'mentionWithoutHandle',
  'handleGone',
  'handleOfAnotherNetwork',
]);

/**
 * What networks see in a text: its links, hashtags and mentions, what lies beyond a limit, and where findings are. Where one sends another text
 * than was written (a mention becomes its handle), its places would be others: then only those count that lie before the first
 * difference.
 * @param written - The text that the checks are of.
 */
export function marksOf(written: string, checks: readonly NetworkCheck[]): MarkedText {
  const text = written.normalize('NFC');
  const marks = new Map<string, Mark>();
  for (const check of checks) {
    const same = sameUntil(check.content.text ?? '', text);
    const add = (mark: Mark, isSure: boolean) => {
      if (mark.length > 0 && (isSure || mark.start + mark.length <= same))
        marks.set(`${mark.kind} ${mark.start} ${mark.length}`, mark);
    };
    for (const part of check.parts) add({ start: part.start ?? 0, length: part.length ?? 0, kind: 'part' }, false);
    const limit = check.overflowAt;
    if (limit !== null && limit <= same) add({ start: limit, length: text.length - limit, kind: 'over' }, true);
    for (const finding of check.findings.filter((f) => f.field === 'text' && f.item === null))
      for (const span of finding.spans ?? [])
        add(
          {
            start: span.start ?? 0,
            length: span.length ?? 0,
            kind: finding.blocks ? 'block' : 'advice',
          },
          inWriting.has(finding.code),
        );
  }
  return { text, marks: [...marks.values()] };
}

function sameUntil(a: string, b: string): number {
  const end = Math.min(a.length, b.length);
  let at = 0;
  while (at < end && a.charCodeAt(at) === b.charCodeAt(at)) at++;
  return at;
}
