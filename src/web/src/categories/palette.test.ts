import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { palette } from './palette';

// Distances are Euclidean in OKLab (B. Ottosson, 2020). Colour blindness is simulated with the matrices of
// Machado, Oliveira, Fernandes 2009 at full severity; contrast is that of WCAG 2.2. Their figures are from memory.
type Triple = [number, number, number];
const visions: Record<string, [Triple, Triple, Triple]> = {
  'usual sight': [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  protanopia: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deuteranopia: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  tritanopia: [
    [1.255528, -0.076749, -0.178779],
    [-0.078411, 0.930809, 0.147602],
    [0.004733, 0.691367, 0.3039],
  ],
};

const css = readFileSync(new URL('../styles.css', import.meta.url), 'utf8');
const dusk = css.slice(css.indexOf('data-theme="dark"'), css.indexOf('@theme'));
const themes = { paper: css.slice(0, css.indexOf('data-theme="dark"')), dusk };
const names = Object.keys(palette);

const linear = (hex: string): Triple =>
  [1, 3, 5].map((i) => {
    const c = Number.parseInt(hex.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as Triple;

const times = (rows: readonly Triple[], v: Triple) =>
  rows.map((r) => r[0] * v[0] + r[1] * v[1] + r[2] * v[2]) as Triple;
const held = (v: Triple) => v.map((x) => Math.min(1, Math.max(0, x))) as Triple;
const luminance = ([r, g, b]: Triple) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

function oklab(rgb: Triple): Triple {
  const lms = times(
    [
      [0.4122214708, 0.5363325363, 0.0514459929],
      [0.2119034982, 0.6806995451, 0.1073969566],
      [0.0883024619, 0.2817188376, 0.6299787005],
    ],
    rgb,
  ).map(Math.cbrt) as Triple;
  return times(
    [
      [0.2104542553, 0.793617785, -0.0040720468],
      [1.9779984951, -2.428592205, 0.4505937099],
      [0.0259040371, 0.7827717662, -0.808675766],
    ],
    lms,
  );
}

const distance = (a: Triple, b: Triple) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const contrast = (a: number, b: number) => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

describe.each(Object.entries(themes))('the palette on %s', (_, block) => {
  const token = (name: string) => linear(new RegExp(`--${name}: (#[0-9a-f]{6});`).exec(block)?.[1] ?? 'none');
  const colours = names.map((name) => ({ name, rgb: token(name) }));

  test('has at least ten colours', () => {
    expect(colours.length).toBeGreaterThanOrEqual(10);
  });

  test.each(Object.entries(visions))('any two can be told apart with %s', (_, matrix) => {
    const seen = colours.map(({ name, rgb }) => ({ name, place: oklab(held(times(matrix, rgb))) }));
    const pairs = seen.flatMap((a, i) =>
      seen.slice(i + 1).map((b) => ({ pair: `${a.name}, ${b.name}`, apart: distance(a.place, b.place) })),
    );
    const closest = pairs.reduce((a, b) => (b.apart < a.apart ? b : a));
    expect(closest.apart, closest.pair).toBeGreaterThan(0.06);
  });

  test('in greyscale each is a step of its own', () => {
    const greys = colours.map(({ rgb }) => Math.cbrt(luminance(rgb))).sort((a, b) => a - b);
    const steps = greys.slice(1).map((g, i) => g - (greys[i] ?? 0));
    expect(Math.min(...steps)).toBeGreaterThan(0.02);
  });

  test('a monogram reads on each', () => {
    for (const { name, rgb } of colours) {
      const letters = token(palette[name] ? 'on-pale' : 'on-deep');
      expect(contrast(luminance(letters), luminance(rgb)), name).toBeGreaterThanOrEqual(4.5);
    }
  });
});
