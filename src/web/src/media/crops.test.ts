import { expect, test } from 'vitest';
import { type CropChoice, cropTrouble, movedTo, ratioWords, sizedTo, wholeOf } from './crops';

const size = { width: 1200, height: 800 };
const glimmer = { minRatio: 0.8, maxRatio: 2, minWidth: 400, minHeight: null };

test('a part stays within the picture wherever it is moved', () => {
  const part = { x: 100, y: 100, width: 600, height: 400 };
  expect(movedTo(part, 5000, -50, size)).toEqual({ x: 600, y: 0, width: 600, height: 400 });
});

test('whatever size is asked for, what comes out is taken there and lies within the picture', () => {
  for (const asked of [
    glimmer,
    { minRatio: 0.55, maxRatio: 0.575, minWidth: null, minHeight: null },
    { minRatio: null, maxRatio: null, minWidth: null, minHeight: null },
  ])
    for (let width = -50; width < 1500; width += 37)
      for (let height = -50; height < 1000; height += 41) {
        const part = sizedTo({ x: 200, y: 100, width: 500, height: 400 }, width, height, size, asked);
        expect(part.x + part.width).toBeLessThanOrEqual(size.width);
        expect(part.y + part.height).toBeLessThanOrEqual(size.height);
        if (asked !== glimmer || part.width >= 400)
          expect([asked, width, height, part, cropTrouble(part, { ...asked, minWidth: null })]).toEqual([
            asked,
            width,
            height,
            part,
            null,
          ]);
      }
});

test('ratios are said as people say them', () => {
  expect([0.8, 2, 2 / 3, 9 / 16, 1, 1.91].map(ratioWords)).toEqual(['4:5', '2:1', '2:3', '9:16', '1:1', '21:11']);
});

test('the whole of a picture is measured too', () => {
  expect(cropTrouble(wholeOf({ width: 300, height: 900 }), glimmer as unknown as CropChoice)).toBe('too narrow');
});

test('what the check of a post refuses by a pixel is not let through', () => {
  expect(cropTrouble({ width: 4000, height: 2000 }, glimmer)).toBeNull();
  expect(cropTrouble({ width: 4001, height: 2000 }, glimmer)).toBe('too wide');
  expect(cropTrouble({ width: 1599, height: 2000 }, glimmer)).toBe('too narrow');
});
