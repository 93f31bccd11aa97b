import type { Schemas } from '../api/client';

const figures: Record<Schemas['FigureKind'], string> = {
  impressions: 'impressions',
  reach: 'reach',
  likes: 'likes',
  comments: 'comments',
  shares: 'shares',
  saves: 'saves',
  linkClicks: 'link clicks',
  videoViews: 'video views',
  followers: 'followers',
};

export const figureWord = (kind: Schemas['FigureKind']) => figures[kind];

const number = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const percent = new Intl.NumberFormat('en-GB', {
  style: 'percent',
  minimumFractionDigits: 1,
  maximumFractionDigits: 1,
});
const ratio = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });

/** What is missing is shown as a dash, never as nought. */
const orDash = (write: (n: number) => string) => (value: number | null | undefined) =>
  value === null || value === undefined ? '–' : write(value);

export const whole = orDash((n) => number.format(n));
export const share = orDash((n) => percent.format(n));
export const index = orDash((n) => ratio.format(n));
