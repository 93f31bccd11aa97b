/**
 * The palette, by the names that the server knows; true where dark letters stand on the colour in the paper theme. Its
 * values are tokens in styles.css: ten steps of lightness, so that they part in greyscale and for colour-blind eyes too.
 */
export const palette: Readonly<Record<string, boolean>> = {
  tide: false,
  gorse: true,
  heather: false,
  reed: true,
  rust: false,
  slate: false,
  thrift: true,
  kelp: false,
  dune: true,
  dusk: false,
};

/** Two letters that stand for a name. */
export function initials(name: string): string {
  const words = name
    .replace(/[^\p{L}\p{N} ]/gu, '')
    .trim()
    .split(/\s+/);
  const two = words.length > 1 ? (words[0]?.[0] ?? '') + (words[1]?.[0] ?? '') : name.trim().slice(0, 2);
  return two.charAt(0).toUpperCase() + two.slice(1).toLowerCase();
}
