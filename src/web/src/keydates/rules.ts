import { longDay, weekdayOf, weekdayWord } from '../time/dates';

const days = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];
const nths = ['first', 'second', 'third', 'fourth'];

const dayOf = (date: string) => days[weekdayOf(date) - 1] ?? 'MO';
const dayOfMonth = (date: string) => Number(date.slice(8));
const nth = (date: string) => Math.ceil(dayOfMonth(date) / 7);

export interface RuleChoice {
  /** What it is, whatever day it names. */
  kind: string;
  value: string;
  label: string;
}

/** Ways in which what begins on a date may come again, as RFC 5545 writes them. */
export function ruleChoices(date: string): RuleChoice[] {
  const day = dayOf(date);
  const weekday = weekdayWord(date);
  const ordinal = nth(date);
  const monthDay = dayOfMonth(date);
  const choices = [
    { kind: 'week', value: `FREQ=WEEKLY;BYDAY=${day}`, label: `Every week on ${weekday}` },
    { kind: 'fortnight', value: `FREQ=WEEKLY;INTERVAL=2;BYDAY=${day}`, label: `Every second week on ${weekday}` },
    { kind: 'monthDay', value: `FREQ=MONTHLY;BYMONTHDAY=${monthDay}`, label: `Every month on day ${monthDay}` },
    {
      kind: 'monthNth',
      value: `FREQ=MONTHLY;BYDAY=${ordinal}${day}`,
      label: `Every month on the ${nths[ordinal - 1]} ${weekday}`,
    },
    { kind: 'monthLast', value: `FREQ=MONTHLY;BYDAY=-1${day}`, label: `Every month on the last ${weekday}` },
    { kind: 'year', value: 'FREQ=YEARLY', label: 'Every year' },
  ];
  // Not every month has a fifth; only late days can be the last.
  return choices.filter((c) => (c.kind !== 'monthNth' || ordinal < 5) && (c.kind !== 'monthLast' || ordinal >= 4));
}

/** A rule without its end, and the end. */
export function splitRule(rule: string): { base: string; until: string | null } {
  const parts = rule.split(';');
  const until = parts.find((p) => p.startsWith('UNTIL='))?.slice(6, 14);
  return {
    base: parts.filter((p) => !p.startsWith('UNTIL=')).join(';'),
    until: until && /^\d{8}$/.test(until) ? `${until.slice(0, 4)}-${until.slice(4, 6)}-${until.slice(6)}` : null,
  };
}

export const joinRule = (base: string, until: string | null) =>
  until ? `${base};UNTIL=${until.replaceAll('-', '')}` : base;

/** The rule that another date would have, where it was one of the choices; else the same. */
export function ruleFrom(rule: string, before: string, date: string): string {
  const { base, until } = splitRule(rule);
  const kind = ruleChoices(before).find((c) => c.value === base)?.kind;
  return joinRule(ruleChoices(date).find((c) => c.kind === kind)?.value ?? base, until);
}

export function ruleWords(rule: string, date: string): string {
  const { base, until } = splitRule(rule);
  const known = ruleChoices(date).find((c) => c.value === base);
  return `${known?.label ?? `By its rule: ${base}`}${until ? `, until ${longDay(until)}` : ''}`;
}
