import type { Schemas } from '../api/client';

export type Crop = Schemas['Crop'];
export type CropChoice = Schemas['CropChoice'];

interface Size {
  width: number;
  height: number;
}

/** What a network asks of a part of a picture. */
type Asked = Pick<CropChoice, 'minRatio' | 'maxRatio' | 'minWidth' | 'minHeight'>;

/** Smallest side that can still be taken hold of, in pixels. */
const smallest = 16;

const clamp = (value: number, least: number, most: number) => Math.min(Math.max(value, least), Math.max(least, most));

export const wholeOf = ({ width, height }: Size): Crop => ({ x: 0, y: 0, width, height });

/** Moved within the picture. */
export const movedTo = (crop: Crop, x: number, y: number, size: Size): Crop => ({
  ...crop,
  x: clamp(Math.round(x), 0, size.width - crop.width),
  y: clamp(Math.round(y), 0, size.height - crop.height),
});

/**
 * With other sides, the upper left corner staying where it is: as near as the network’s shapes, the least size and the picture’s edges
 * let it be.
 */
export function sizedTo(crop: Crop, width: number, height: number, size: Size, asked: Asked): Crop {
  const [most, low] = [size.width - crop.x, size.height - crop.y];
  let w = clamp(width, Math.max(smallest, asked.minWidth ?? 0), most);
  let h = clamp(height, Math.max(smallest, asked.minHeight ?? 0), low);
  const [min, max] = [asked.minRatio ?? 0, asked.maxRatio ?? Number.POSITIVE_INFINITY];
  if (w / h > max) w = h * max;
  if (w / h < min) h = Math.min(h, w / min);
  // On whole pixels the shape still has to be one that is taken.
  h = Math.max(1, Math.floor(h));
  w = clamp(Math.round(w), Math.ceil(h * min), Math.min(most, Math.floor(h * max)));
  return { x: crop.x, y: crop.y, width: w, height: h };
}

/** What is wrong with a part for a network, in words; null: nothing. To the pixel, as the check of the post has it. */
export function cropTrouble(part: Size, asked: Asked): string | null {
  const ratio = part.width / part.height;
  if (asked.minRatio !== null && ratio < asked.minRatio) return 'too narrow';
  if (asked.maxRatio !== null && ratio > asked.maxRatio) return 'too wide';
  if (asked.minWidth !== null && part.width < asked.minWidth) return `under ${asked.minWidth} pixels wide`;
  if (asked.minHeight !== null && part.height < asked.minHeight) return `under ${asked.minHeight} pixels high`;
  return null;
}

/** A ratio as people say it: 4:5, 2:1, or a figure. */
export function ratioWords(ratio: number): string {
  for (let below = 1; below <= 16; below++) {
    const above = ratio * below;
    if (Math.abs(above - Math.round(above)) < 0.004 * below && Math.round(above) > 0)
      return `${Math.round(above)}:${below}`;
  }
  return ratio.toFixed(2);
}

/** What a network takes, in a few words. */
export function askedWords({ minRatio, maxRatio, bestRatio, minWidth, minHeight }: CropChoice): string {
  const parts = [];
  if (minRatio !== null && maxRatio !== null)
    parts.push(
      Math.abs(minRatio - maxRatio) < 0.06
        ? ratioWords(bestRatio ?? (minRatio + maxRatio) / 2)
        : `${ratioWords(minRatio)} to ${ratioWords(maxRatio)}`,
    );
  else if (bestRatio !== null) parts.push(`best ${ratioWords(bestRatio)}`);
  if (minWidth !== null && minHeight !== null) parts.push(`${minWidth} × ${minHeight} at least`);
  else if (minWidth !== null) parts.push(`${minWidth} wide at least`);
  return parts.length > 0 ? parts.join(', ') : 'any shape';
}

/** Shows a part of a picture alone. */
export const viewBoxOf = (c: Crop) => `xywh(${c.x}px ${c.y}px ${c.width}px ${c.height}px)`;
