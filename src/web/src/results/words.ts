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

const list = new Intl.ListFormat('en-GB', { type: 'conjunction' });

export const listWords = (words: readonly string[]) => list.format(words);
