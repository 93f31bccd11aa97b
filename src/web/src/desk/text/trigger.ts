/** What is being written just before the caret that may be finished for the writer. */
export interface Trigger {
  kind: 'mention' | 'hashtag' | 'emoji';
  /** What has been typed of it. */
  typed: string;
  /** Where it begins, its sign included. */
  start: number;
}

// Longer ones are no beginning of anything, and a bound keeps the look-back short.
const mention = /(?:^|[^\p{L}\p{N}_@])@([\p{L}\p{N}_.-]{0,30}(?: [\p{L}\p{N}_.-]{1,20})?)$/u;
const hashtag = /(?:^|[^\p{L}\p{N}_#&])#([\p{L}\p{M}\p{N}_]{0,50})$/u;
const emoji = /(?:^|\s):([a-z][a-z ]{1,20})$/;
const longest = 60;

export function triggerAt(text: string, caret: number): Trigger | null {
  const before = text.slice(Math.max(0, caret - longest), caret);
  for (const [kind, pattern] of [
    ['mention', mention],
    ['hashtag', hashtag],
    ['emoji', emoji],
  ] as const) {
    const typed = pattern.exec(before)?.[1];
    if (typed !== undefined) return { kind, typed, start: caret - typed.length - 1 };
  }
  return null;
}
