import { describe, expect, it } from 'vitest';
import { joinRule, ruleChoices, ruleFrom, ruleWords, splitRule } from './rules';

describe('rules of key dates', () => {
  it('name the day that they begin on', () => {
    // A Tuesday, the fourth and the last of its month.
    expect(ruleChoices('2026-11-24').map((c) => c.label)).toEqual([
      'Every week on Tue',
      'Every second week on Tue',
      'Every month on day 24',
      'Every month on the fourth Tue',
      'Every month on the last Tue',
      'Every year',
    ]);
    expect(ruleChoices('2026-12-31').map((c) => c.value)).not.toContain('FREQ=MONTHLY;BYDAY=5TH');
  });

  it('end on a date and say so', () => {
    const rule = joinRule('FREQ=YEARLY', '2030-01-31');
    expect(rule).toBe('FREQ=YEARLY;UNTIL=20300131');
    expect(splitRule(rule)).toEqual({ base: 'FREQ=YEARLY', until: '2030-01-31' });
    expect(splitRule('FREQ=DAILY;UNTIL=20300131T120000Z').until).toBe('2030-01-31');
    expect(ruleWords(rule, '2026-11-24')).toBe('Every year, until 31 Jan 2030');
  });

  it('go along with a date that is changed, and stay what they are where they say more', () => {
    expect(ruleFrom('FREQ=WEEKLY;BYDAY=TU;UNTIL=20300131', '2026-11-24', '2026-11-26')).toBe(
      'FREQ=WEEKLY;BYDAY=TH;UNTIL=20300131',
    );
    expect(ruleFrom('FREQ=WEEKLY;INTERVAL=2;BYDAY=TU', '2026-11-24', '2026-11-26')).toBe(
      'FREQ=WEEKLY;INTERVAL=2;BYDAY=TH',
    );
    expect(ruleFrom('FREQ=MONTHLY;BYMONTHDAY=24', '2026-11-24', '2026-11-26')).toBe('FREQ=MONTHLY;BYMONTHDAY=26');
    expect(ruleFrom('FREQ=MONTHLY;BYDAY=1TU', '2026-12-01', '2026-12-09')).toBe('FREQ=MONTHLY;BYDAY=2WE');
    expect(ruleFrom('FREQ=MONTHLY;BYDAY=TU,TH;BYSETPOS=1', '2026-12-01', '2026-12-09')).toBe(
      'FREQ=MONTHLY;BYDAY=TU,TH;BYSETPOS=1',
    );
  });
});
