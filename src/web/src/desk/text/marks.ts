/** A stretch of a text that is drawn in another way; start and length in UTF-16 units. */
export interface Mark {
  start: number;
  length: number;
  kind: MarkKind;
}

/** What networks treat specially; what lies beyond a limit; what blocks; what is only advised against. */
export type MarkKind = 'part' | 'over' | 'block' | 'advice';

export interface Segment {
  start: number;
  end: number;
  kinds: ReadonlySet<MarkKind>;
}

/** The stretches of a text that are drawn alike, in order, all of it; marks may overlap. */
export function segmentsOf(length: number, marks: readonly Mark[]): Segment[] {
  const cuts = new Set([0, length]);
  for (const m of marks) {
    cuts.add(Math.min(Math.max(m.start, 0), length));
    cuts.add(Math.min(Math.max(m.start + m.length, 0), length));
  }
  const at = [...cuts].sort((a, b) => a - b);
  return at.slice(1).map((end, i) => {
    const start = at[i] ?? 0;
    const over = marks.filter((m) => m.start <= start && m.start + m.length >= end);
    return {
      start,
      end,
      kinds: new Set(over.map((m) => m.kind)),
    };
  });
}

/**
 * Marks of a text as they lie in what it has become meanwhile: those before the change stay, those behind it move along, and those that
 * it touches are gone until the text has been looked at again. What lies beyond a limit goes on to the end.
 */
export function movedMarks(marks: readonly Mark[], before: string, after: string): readonly Mark[] {
  if (before === after) return marks;
  const shorter = Math.min(before.length, after.length);
  let head = 0;
  while (head < shorter && before.charCodeAt(head) === after.charCodeAt(head)) head++;
  let tail = 0;
  while (
    tail < shorter - head &&
    before.charCodeAt(before.length - 1 - tail) === after.charCodeAt(after.length - 1 - tail)
  )
    tail++;
  const shift = after.length - before.length;
  return marks.flatMap((mark) => {
    const end = mark.start + mark.length;
    if (mark.kind === 'over' && end === before.length) {
      const start = mark.start <= head ? mark.start : Math.max(head, mark.start + shift);
      return start < after.length ? [{ ...mark, start, length: after.length - start }] : [];
    }
    if (end <= head) return [mark];
    if (mark.start >= before.length - tail) return [{ ...mark, start: mark.start + shift }];
    return [];
  });
}
