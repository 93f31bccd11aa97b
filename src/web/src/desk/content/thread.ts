import type { Thread } from '../../posts/content';

/** All parts of a thread, the post's own text the first of them. */
export type Parts = readonly (Thread['parts'][number] | { text: string; pictures?: null })[];

/** One part in two; the blanks around the cut go. Pictures stay with what comes first. */
export function splitAt(parts: Parts, index: number, caret: number): Parts {
  const part = parts[index];
  if (!part) return parts;
  const [head, tail] = [part.text.slice(0, caret).trimEnd(), part.text.slice(caret).trimStart()];
  return [...parts.slice(0, index), { ...part, text: head }, { text: tail }, ...parts.slice(index + 1)];
}

/** A part at the end of the one before it, with its pictures. */
export function joined(parts: Parts, index: number): Parts {
  const [before, part] = [parts[index - 1], parts[index]];
  if (!before || !part) return parts;
  const text = [before.text, part.text].filter((t) => t.length > 0).join('\n\n');
  const pictures = [...(before.pictures ?? []), ...(part.pictures ?? [])];
  const one = { ...before, text, ...(pictures.length > 0 && { pictures }) };
  return [...parts.slice(0, index - 1), one, ...parts.slice(index + 1)];
}
